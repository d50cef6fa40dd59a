import { connection } from '@/db/database';

/** The PostgreSQL notification channel on which any process tells all web nodes what their browsers should hear. */
export const LIVE_CHANNEL = 'yurta_live';

/** What goes over the channel: small, because a notification holds 8 000 bytes. Larger things are named and read. */
export type LiveNotice =
  | { kind: 'project'; projectId: string; event: ProjectEvent }
  | { kind: 'settled'; meetingId: string; seq: number }
  | { kind: 'person'; userId: string };

/** What changed in a project. What a job is at is apart from what is published: it changes several times a second. */
export type ProjectEvent = (typeof SHOWN_CHANGES)[number] | 'access-changed';

/** Changes of which browsers are told. */
export const SHOWN_CHANGES = [
  'models-changed',
  'jobs-changed',
  'viewpoints-changed',
  'snapshots-changed',
  'comments-changed',
  'approvals-changed',
  'meeting-changed',
] as const;

export const projectRoom = (projectId: string) => `project:${projectId}`;
export const personRoom = (userId: string) => `person:${userId}`;
export const meetingRoom = (meetingId: string) => `meeting:${meetingId}`;

/** Tells every browser that looks at a project that something changed, whichever node it is connected to. */
export function tellProject(projectId: string, event: ProjectEvent): Promise<void> {
  return announce({ kind: 'project', projectId, event });
}

/** Tells every browser in a meeting that an event was settled; nodes read the event itself from the log. */
export function tellMeeting(meetingId: string, seq: number): Promise<void> {
  return announce({ kind: 'settled', meetingId, seq });
}

/** Tells every browser of an account that there is something new under the bell or on its list, or that it was seen elsewhere. */
export function tellPerson(userId: string): Promise<void> {
  return announce({ kind: 'person', userId });
}

async function announce(notice: LiveNotice): Promise<void> {
  await connection().pool.query('select pg_notify($1, $2)', [LIVE_CHANNEL, JSON.stringify(notice)]);
}
