import { createHmac, randomInt } from 'node:crypto';
import { and, asc, desc, eq, gt, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import {
  emptyMeeting,
  objection,
  reduceMeeting,
  type MeetingEvent,
  type MeetingState,
  type SettledEvent,
} from '@/core/meeting/meeting';
import type { RunningMeeting } from '@/core/meeting/meeting-record';
import { may } from '@/core/rights';
import { db, type Transaction } from '@/db/database';
import { meetingEvents, meetings, projects, viewpoints } from '@/db/schema';
import { authorise, requireUser, type Actor } from './access';
import { tellMeeting, tellProject } from './broadcast';
import { config, keyedHash } from './config';
import { createGuest } from './links';
import { notFound, Problem } from './problems';

/** Six digits that follow from the meeting and the server's secret, so that they need not be stored. */
function codeOf(meetingId: string, salt: number): string {
  const digest = createHmac('sha256', config().secret).update(`meeting-code:${meetingId}:${salt}`).digest();
  return String(digest.readUInt32BE(0) % 1_000_000).padStart(6, '0');
}

export async function startMeeting(actor: Actor, projectId: string, title: string): Promise<RunningMeeting> {
  requireUser(actor);
  await authorise(actor, projectId, 'meeting.lead');
  const running = await runningMeeting(actor, projectId);
  if (running) return running;
  const id = uuidv7();
  for (;;) {
    const codeSalt = randomInt(1_000_000_000);
    const codeHash = keyedHash('code', codeOf(id, codeSalt));
    const [taken] = await db()
      .select({ id: meetings.id })
      .from(meetings)
      .where(and(eq(meetings.codeHash, codeHash), isNull(meetings.endedAt)));
    if (taken) continue;
    await db().insert(meetings).values({ id, projectId, title, codeHash, codeSalt, startedBy: actor.id });
    break;
  }
  await settle(id, null, { type: 'started', title });
  await tellProject(projectId, 'meeting-changed');
  return (await runningMeeting(actor, projectId))!;
}

/** The meeting that is going on in a project, or null. */
export async function runningMeeting(actor: Actor, projectId: string): Promise<RunningMeeting | null> {
  const role = await authorise(actor, projectId, 'meeting.join');
  const [row] = await db()
    .select()
    .from(meetings)
    .where(and(eq(meetings.projectId, projectId), isNull(meetings.endedAt)))
    .orderBy(desc(meetings.startedAt));
  if (!row) return null;
  return {
    id: row.id,
    title: row.title,
    startedAt: row.startedAt.toISOString(),
    code: may(role, 'meeting.lead') ? codeOf(row.id, row.codeSalt) : null,
  };
}

export async function enterByCode(code: string, name: string) {
  const meeting = await meetingByCode(code);
  return {
    projectId: meeting.projectId,
    ...(await createGuest({ projectId: meeting.projectId, meetingId: meeting.id, name })),
  };
}

async function meetingByCode(code: string) {
  const [row] = await db()
    .select()
    .from(meetings)
    .where(and(eq(meetings.codeHash, keyedHash('code', code)), isNull(meetings.endedAt)));
  if (!row)
    throw new Problem(
      404,
      'No meeting with this code is going on. Check the six digits; a code ends with its meeting.',
    );
  return row;
}

export async function readMeeting(meetingId: string) {
  const [row] = await db()
    .select({ meeting: meetings, project: projects })
    .from(meetings)
    .innerJoin(projects, eq(projects.id, meetings.projectId))
    .where(eq(meetings.id, meetingId));
  if (!row) throw notFound('The meeting');
  return row;
}

/** Events after `since`, in order. */
export async function eventsAfter(meetingId: string, since: number): Promise<SettledEvent[]> {
  const rows = await db()
    .select()
    .from(meetingEvents)
    .where(and(eq(meetingEvents.meetingId, meetingId), gt(meetingEvents.seq, since)))
    .orderBy(asc(meetingEvents.seq));
  return rows.map(settled);
}

export async function meetingState(meetingId: string): Promise<MeetingState> {
  return (await eventsAfter(meetingId, 0)).reduce(reduceMeeting, emptyMeeting());
}

function settled(row: typeof meetingEvents.$inferSelect): SettledEvent {
  return { seq: row.seq, at: row.at.toISOString(), by: row.by, event: row.event };
}

/**
 * Settles an event: checks it against the state it meets, numbers it, stores it, tells everyone. The meeting's row is
 * locked meanwhile, so that any number of nodes agree on one order.
 *
 * @param by participant, or null for the server
 * @throws Problem 409 with the reason if the state does not allow the event
 */
export async function settle(meetingId: string, by: string | null, event: MeetingEvent): Promise<SettledEvent> {
  const stored = await db().transaction(async (tx) => {
    const [meeting] = await tx.select().from(meetings).where(eq(meetings.id, meetingId)).for('update');
    if (!meeting) throw notFound('The meeting');
    const state = await stateWithin(tx, meetingId);
    const reason = objection(state, by, event);
    if (reason) throw new Problem(409, reason);
    const row = { meetingId, seq: state.seq + 1, at: new Date(), by, event };
    await tx.insert(meetingEvents).values(row);
    if (event.type === 'ended') await tx.update(meetings).set({ endedAt: row.at }).where(eq(meetings.id, meetingId));
    return { projectId: meeting.projectId, event: settled(row) };
  });
  await tellMeeting(meetingId, stored.event.seq);
  if (event.type === 'ended') {
    await tellProject(stored.projectId, 'meeting-changed');
    await tellProject(stored.projectId, 'access-changed'); // those who came by its code
  }
  return stored.event;
}

/** Folded states by meeting, so that settling folds only what is new. Another node's events are picked up by number. */
const snapshots = new Map<string, MeetingState>();

async function stateWithin(tx: Transaction, meetingId: string): Promise<MeetingState> {
  const known = snapshots.get(meetingId) ?? emptyMeeting();
  const rows = await tx
    .select()
    .from(meetingEvents)
    .where(and(eq(meetingEvents.meetingId, meetingId), gt(meetingEvents.seq, known.seq)))
    .orderBy(asc(meetingEvents.seq));
  const state = rows.map(settled).reduce(reduceMeeting, known);
  // What was read is committed: the meeting's row is locked, so nobody else is in the middle of adding.
  snapshots.set(meetingId, state);
  return state;
}

/** The state stored with a viewpoint, for the event that shows it to everyone. */
export async function viewpointEvent(projectId: string, viewpointId: string): Promise<MeetingEvent> {
  const [row] = await db()
    .select()
    .from(viewpoints)
    .where(and(eq(viewpoints.id, viewpointId), eq(viewpoints.projectId, projectId)));
  if (!row) throw notFound('The viewpoint');
  return { type: 'viewpoint-applied', viewpoint: row.id, state: row.state };
}

/** How an actor appears in a meeting of this project. */
export async function participantFor(actor: Actor, projectId: string) {
  const role = await authorise(actor, projectId, 'meeting.join');
  return { id: actor.id, name: actor.name, guest: actor.kind === 'guest', host: role === 'lead' };
}
