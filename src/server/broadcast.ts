import { connection } from '@/db/database';
import { log } from './log';

/** The PostgreSQL notification channel on which any process tells all web nodes what their browsers should hear. */
export const LIVE_CHANNEL = 'yurta_live';

/** What goes over the channel: small, because a notification holds 8 000 bytes. Larger things are named and read. */
export type LiveNotice =
  | { kind: 'project'; projectId: string; event: ProjectEvent }
  | { kind: 'settled'; meetingId: string; seq: number }
  | { kind: 'person'; userId: string }
  /** A process began. One that was there before it may have died between changing something and announcing it. */
  | { kind: 'began' };

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

/** Tells every browser to ask anew for what it shows; to be called by every process that begins. */
export function tellBegun(): Promise<void> {
  return announce({ kind: 'began' });
}

const RETRY_MS = 1000;
/** Notices that could not be announced yet, each once. */
const waiting = new Set<string>();
let retry: NodeJS.Timeout | undefined;

/** Never fails for whoever has changed something: while the database is away, what there is to tell waits. */
async function announce(notice: LiveNotice): Promise<void> {
  const payload = JSON.stringify(notice);
  try {
    await notify(payload);
  } catch (error) {
    log.warn({ notice: payload, error: String(error) }, 'notice waits for the database');
    waiting.add(payload);
    retry ??= setInterval(() => void announceWaiting(), RETRY_MS).unref();
  }
}

async function announceWaiting(): Promise<void> {
  try {
    for (const payload of waiting) {
      await notify(payload);
      waiting.delete(payload);
    }
    clearInterval(retry);
    retry = undefined;
  } catch {
    // The next try follows.
  }
}

async function notify(payload: string): Promise<void> {
  await connection().pool.query('select pg_notify($1, $2)', [LIVE_CHANNEL, payload]);
}
