import { createHmac, randomInt } from 'node:crypto';
import { and, desc, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { RunningMeeting } from '@/core/meeting/meeting-record';
import { may } from '@/core/rights';
import { db } from '@/db/database';
import { meetings, projects } from '@/db/schema';
import { authorise, requireUser, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { config, keyedHash } from '../config';
import { isSiege } from '../access/door-guard';
import { createGuest } from '../access/links';
import { record } from './activities';
import { lastEvent, settle } from './meeting-log';
import { presentIn } from './meeting-presence';
import { notFound, Problem } from '../problems';

const DIGITS = 6;

/** Nine digits that follow from the meeting and the server's secret, so that they need not be stored; usually the first six suffice. */
function codeOf(meetingId: string, salt: number): string {
  const digest = createHmac('sha256', config().secret).update(`meeting-code:${meetingId}:${salt}`).digest();
  const more = String(digest.readUInt32BE(4) % 1000).padStart(3, '0');
  return String(digest.readUInt32BE(0) % 1_000_000).padStart(DIGITS, '0') + more;
}

export async function startMeeting(actor: Actor, projectId: string, title: string): Promise<RunningMeeting> {
  requireUser(actor);
  await authorise(actor, projectId, 'meeting.lead');
  const running = await runningMeeting(actor, projectId);
  if (running) return running;
  const id = uuidv7();
  for (;;) {
    const codeSalt = randomInt(1_000_000_000);
    const codeHash = keyedHash('code', codeOf(id, codeSalt).slice(0, DIGITS));
    const [taken] = await db()
      .select({ id: meetings.id })
      .from(meetings)
      .where(and(eq(meetings.codeHash, codeHash), isNull(meetings.endedAt)));
    if (taken) continue;
    const [project] = await db()
      .select({ isHeld: projects.holdsMinutes })
      .from(projects)
      .where(eq(projects.id, projectId));
    const isFirst = await db().transaction(async (tx) => {
      const made = await tx
        .insert(meetings)
        .values({ id, projectId, title, codeHash, codeSalt, startedBy: actor.id, ...project })
        .onConflictDoNothing({ target: meetings.projectId, where: isNull(meetings.endedAt) })
        .returning({ id: meetings.id });
      if (made.length === 0) return false;
      await record(tx, { projectId, by: actor, kind: 'meeting-started', subjectId: id, text: title });
      return true;
    });
    if (isFirst) break;
    // Somebody else was quicker; if that meeting has ended since, this one begins.
    const theirs = await runningMeeting(actor, projectId);
    if (theirs) return theirs;
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
    code: may(role, 'meeting.lead')
      ? codeOf(row.id, row.codeSalt).slice(0, (await isSiege()) ? undefined : DIGITS)
      : null,
  };
}

export async function enterByCode(code: string, name: string, email: string | null = null) {
  const meeting = await meetingByCode(code);
  return {
    projectId: meeting.projectId,
    ...(await createGuest({ projectId: meeting.projectId, meetingId: meeting.id, name, email })),
  };
}

/** Tells everybody who leads a meeting that its code has become longer. */
export async function tellLongCodes(): Promise<void> {
  const running = await db().select({ projectId: meetings.projectId }).from(meetings).where(isNull(meetings.endedAt));
  for (const { projectId } of running) await tellProject(projectId, 'meeting-changed');
}

async function meetingByCode(code: string) {
  if (code.length <= DIGITS && (await isSiege()))
    throw new Problem(404, 'Just now codes have nine digits. Ask whoever leads the meeting for all of them.');
  const [row] = await db()
    .select()
    .from(meetings)
    .where(and(eq(meetings.codeHash, keyedHash('code', code.slice(0, DIGITS))), isNull(meetings.endedAt)));
  if (!row || !codeOf(row.id, row.codeSalt).startsWith(code))
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

/** How an actor appears in a meeting of this project. */
export async function participantFor(actor: Actor, projectId: string) {
  const role = await authorise(actor, projectId, 'meeting.join');
  return { id: actor.id, name: actor.name, guest: actor.kind === 'guest', host: role === 'lead' };
}

/** A meeting in which nobody has been for so long is over, and its code with it. */
const FORGOTTEN_MS = 4 * 60 * 60_000;

/** Ends meetings that everybody has left without ending them. Returns how many. */
export async function endForgottenMeetings(now = Date.now()): Promise<number> {
  const running = await db().select({ id: meetings.id, startedAt: meetings.startedAt }).from(meetings).where(isNull(meetings.endedAt)); // prettier-ignore
  let ended = 0;
  for (const { id, startedAt } of running) {
    const last = (await lastEvent(id))?.at ?? startedAt.toISOString();
    if (now - Date.parse(last) < FORGOTTEN_MS || (await presentIn(id)).size > 0) continue;
    await settle(id, null, { type: 'ended' });
    ended++;
  }
  return ended;
}
