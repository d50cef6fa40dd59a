import { and, eq, isNull } from 'drizzle-orm';
import { db } from '@/db/database';
import { comments, confirmations, meetings, viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { forbidden, notFound, Problem } from '../problems';
import { record } from './activities';
import { meetingState } from './meeting-log';

/** Whether somebody leads the meeting that is going on in a project. */
export async function leadsMeeting(actor: Actor, projectId: string): Promise<boolean> {
  const running = await runningIn(projectId);
  return running !== null && (await meetingState(running)).lead === actor.id;
}

/** @throws Problem 404 unless everybody may see the viewpoint */
export async function checkViewpoint(projectId: string, viewpointId: string): Promise<void> {
  const [row] = await db()
    .select({ id: viewpoints.id })
    .from(viewpoints)
    .where(and(eq(viewpoints.id, viewpointId), eq(viewpoints.projectId, projectId), isNull(viewpoints.deletedAt)));
  if (!row) throw notFound('The viewpoint');
}

/**
 * Says, as somebody who is in the meeting, that a decision stands as it is written. Saying it twice says it once.
 *
 * @throws Problem 404 for what is no decision, 409 outside of the meeting in which it was taken, 403 for who is not in it
 */
export async function confirmDecision(actor: Actor, projectId: string, id: string): Promise<void> {
  await authorise(actor, projectId, 'meeting.join');
  const running = await runningIn(projectId);
  const isNew = await db().transaction(async (tx) => {
    // Locked, so that nobody changes the words under the hand of who confirms them.
    const [row] = await tx
      .select()
      .from(comments)
      .where(and(eq(comments.id, id), eq(comments.projectId, projectId), isNull(comments.deletedAt)))
      .for('update');
    if (row?.kind !== 'decision') throw notFound('The decision');
    if (running === null || row.meetingId !== running)
      throw new Problem(409, 'The meeting in which this was decided is over. What is to be said about it goes into an answer.'); // prettier-ignore
    const here = (await meetingState(running)).participants.some((one) => one.id === actor.id && one.present);
    if (!here) throw forbidden();
    const stored = await tx
      .insert(confirmations)
      .values({ commentId: id, byId: actor.id, byName: actor.name })
      .onConflictDoNothing()
      .returning({ id: confirmations.commentId });
    if (stored.length > 0) await record(tx, { projectId, by: actor, kind: 'confirmed', subjectId: id, text: row.text });
    return stored.length > 0;
  });
  if (isNew) await tellProject(projectId, 'comments-changed');
}

/** The meeting that is going on in a project, whoever asks; null where there is none. */
export async function runningIn(projectId: string): Promise<string | null> {
  const [row] = await db()
    .select({ id: meetings.id })
    .from(meetings)
    .where(and(eq(meetings.projectId, projectId), isNull(meetings.endedAt)));
  return row?.id ?? null;
}
