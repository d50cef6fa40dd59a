import { connection } from '@/db/database';

/** The PostgreSQL notification channel on which any process tells all web nodes what their browsers should hear. */
export const LIVE_CHANNEL = 'yurta_live';

/** What goes over the channel: small, because a notification holds 8 000 bytes. Larger things are named and read. */
export type LiveNotice =
  { kind: 'project'; projectId: string; event: ProjectEvent } | { kind: 'settled'; meetingId: string; seq: number };

export type ProjectEvent =
  'models-changed' | 'viewpoints-changed' | 'comments-changed' | 'meeting-changed' | 'access-changed';

export const projectRoom = (projectId: string) => `project:${projectId}`;
export const meetingRoom = (meetingId: string) => `meeting:${meetingId}`;

/** Tells every browser that looks at a project that something changed, whichever node it is connected to. */
export function tellProject(projectId: string, event: ProjectEvent): Promise<void> {
  return notify({ kind: 'project', projectId, event });
}

/** Tells every browser in a meeting that an event was settled; nodes read the event itself from the log. */
export function tellMeeting(meetingId: string, seq: number): Promise<void> {
  return notify({ kind: 'settled', meetingId, seq });
}

async function notify(notice: LiveNotice): Promise<void> {
  await connection().pool.query('select pg_notify($1, $2)', [LIVE_CHANNEL, JSON.stringify(notice)]);
}
