import { and, asc, eq, gt } from 'drizzle-orm';
import {
  emptyMeeting,
  objection,
  reduceMeeting,
  type MeetingEvent,
  type MeetingState,
  type SentEvent,
  type SettledEvent,
} from '@/core/meeting/meeting';
import { readEvent } from '@/core/meeting/read-event';
import { readView } from '@/core/view/view-state';
import { changeOf, readParts } from '@/core/project/viewpoint-card';
import { db, type Transaction } from '@/db/database';
import { meetingEvents, meetings, viewpoints } from '@/db/schema';
import { tellMeeting, tellProject } from '../broadcast';
import { notFound, Problem } from '../problems';
import { record } from './activities';

/** Events after `since`, in order. */
export async function eventsAfter(meetingId: string, since: number): Promise<SettledEvent[]> {
  return readEvents(db(), meetingId, since);
}

async function readEvents(
  from: Pick<Transaction, 'select'>,
  meetingId: string,
  since: number,
): Promise<SettledEvent[]> {
  const rows = await from
    .select()
    .from(meetingEvents)
    .where(and(eq(meetingEvents.meetingId, meetingId), gt(meetingEvents.seq, since)))
    .orderBy(asc(meetingEvents.seq));
  return rows.map(settled);
}

function settled(row: typeof meetingEvents.$inferSelect): SettledEvent {
  return { seq: row.seq, at: row.at.toISOString(), by: row.by, event: readEvent(row.event) };
}

/** States that were folded once, so that only what is new is read; another process's events are picked up by number. */
const kept = new Map<string, MeetingState>();
const MOST_KEPT = 200;

/** What everyone in a meeting agrees on by now. */
export async function meetingState(meetingId: string): Promise<MeetingState> {
  return stateWithin(db(), meetingId);
}

/** The state as far as this process has heard of it, without asking the database; null if it has not. */
export function keptState(meetingId: string): MeetingState | null {
  return kept.get(meetingId) ?? null;
}

async function stateWithin(from: Pick<Transaction, 'select'>, meetingId: string): Promise<MeetingState> {
  const known = kept.get(meetingId) ?? emptyMeeting();
  const events = await readEvents(from, meetingId, known.seq);
  return keep(meetingId, events.reduce(reduceMeeting, known));
}

/** Keeps the newest state; of many meetings, those that were asked for last. */
function keep(meetingId: string, state: MeetingState): MeetingState {
  const other = kept.get(meetingId);
  const newest = other && other.seq > state.seq ? other : state;
  kept.delete(meetingId);
  kept.set(meetingId, newest);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return newest;
}

/**
 * Settles an event: checks it against the state it meets, numbers it, stores it, tells everyone. The meeting's row is
 * locked meanwhile, so that any number of nodes agree on one order.
 *
 * @param by participant, or null for the server
 * @param until milliseconds since 1970 after which nobody wants it any more: whoever sent it has been told that it came to nothing
 * @throws Problem 409 with the reason if the state does not allow the event, 503 if it is too late
 */
export async function settle(
  meetingId: string,
  by: string | null,
  event: MeetingEvent,
  until = Infinity,
): Promise<SettledEvent> {
  const { projectId, stored } = await db().transaction(async (tx) => {
    const meeting = await lockMeeting(tx, meetingId);
    if (!meeting) throw notFound('The meeting');
    const stored = await settleWithin(tx, meetingId, by, event);
    if (Date.now() > until) throw new Problem(503, 'That took too long and was left. Try again.');
    return { projectId: meeting.projectId, stored };
  });
  await announceSettled(meetingId, projectId, stored);
  return stored;
}

/** Locks a meeting's row until the transaction ends. Returns undefined if there is none. */
export async function lockMeeting(tx: Transaction, meetingId: string) {
  const [meeting] = await tx.select().from(meetings).where(eq(meetings.id, meetingId)).for('update');
  return meeting;
}

/** Numbers and stores an event in a meeting whose row this transaction has locked. It is announced afterwards. */
export async function settleWithin(
  tx: Transaction,
  meetingId: string,
  by: string | null,
  event: MeetingEvent,
): Promise<SettledEvent> {
  // What is read here is committed: nobody else can be in the middle of adding.
  const state = await stateWithin(tx, meetingId);
  const reason = objection(state, by, event);
  if (reason) throw new Problem(409, reason);
  const row = { meetingId, seq: state.seq + 1, at: new Date(), by, event };
  await tx.insert(meetingEvents).values(row);
  if (event.type === 'ended') {
    const [ended] = await tx
      .update(meetings)
      .set({ endedAt: row.at })
      .where(eq(meetings.id, meetingId))
      .returning({ projectId: meetings.projectId });
    const who = state.participants.find(({ id }) => id === by) ?? { id: '', name: 'Yurta' };
    await record(tx, { ...ended!, by: who, kind: 'meeting-ended', subjectId: meetingId, text: state.title });
  }
  return { seq: row.seq, at: row.at.toISOString(), by, event };
}

/** Events that this process settled and has not passed on yet, by meeting and number: they need not be read again. */
const fresh = new Map<string, SettledEvent>();
const MOST_FRESH = 500;

/** One event of the log, for those who are in the meeting; what it changes counts from now on. */
export async function settledEvent(meetingId: string, seq: number): Promise<SettledEvent | undefined> {
  const key = `${meetingId}:${seq}`;
  const event = fresh.get(key) ?? (await eventsAfter(meetingId, seq - 1))[0];
  fresh.delete(key);
  if (event) await takeIn(meetingId, event);
  return event;
}

async function takeIn(meetingId: string, event: SettledEvent): Promise<void> {
  const before = kept.get(meetingId);
  if (before?.seq === event.seq - 1) keep(meetingId, reduceMeeting(before, event));
  else if (!before || before.seq < event.seq) await meetingState(meetingId);
}

/** The newest event of a meeting, as far as anything has been settled; what it changes counts from now on. */
export async function lastEvent(meetingId: string): Promise<SettledEvent | undefined> {
  const { seq } = await meetingState(meetingId);
  return seq > 0 ? settledEvent(meetingId, seq) : undefined;
}

/** Tells everyone of an event that is committed. */
export async function announceSettled(meetingId: string, projectId: string, stored: SettledEvent): Promise<void> {
  await takeIn(meetingId, stored);
  fresh.set(`${meetingId}:${stored.seq}`, stored);
  if (fresh.size > MOST_FRESH) fresh.delete(fresh.keys().next().value!);
  await tellMeeting(meetingId, stored.seq);
  if (stored.event.type === 'ended') {
    await tellProject(projectId, 'meeting-changed');
    await tellProject(projectId, 'access-changed'); // those who came by its code
  }
}

/** The event that somebody sent, with the stored view where they opened a viewpoint. */
export async function eventOf(projectId: string, sent: SentEvent): Promise<MeetingEvent> {
  if (sent.type !== 'view-changed') return sent;
  if ('change' in sent) return { type: 'view-changed', change: sent.change, viewpoint: null };
  const [row] = await db()
    .select({ id: viewpoints.id, state: viewpoints.state, parts: viewpoints.parts })
    .from(viewpoints)
    .where(and(eq(viewpoints.id, sent.viewpoint), eq(viewpoints.projectId, projectId)));
  if (!row) throw notFound('The viewpoint');
  return {
    type: 'view-changed',
    change: changeOf({ state: readView(row.state), parts: readParts(row.parts) }),
    viewpoint: row.id,
  };
}
