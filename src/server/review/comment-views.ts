import { and, eq, isNull } from 'drizzle-orm';
import type { ViewState } from '@/core/view/view-state';
import { may } from '@/core/rights';
import { db } from '@/db/database';
import { comments } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { forbidden, notFound, Problem } from '../problems';
import { checkGuestRoom, sizeOfView } from './guest-room';

/**
 * Gives a comment that was said without one its view and its picture.
 *
 * @throws Problem 403 for whose comment it is not, 404, 409 where it has a view
 */
export async function setView(
  actor: Actor,
  projectId: string,
  id: string,
  view: ViewState,
  picture: Buffer | null,
): Promise<void> {
  const role = await authorise(actor, projectId, 'comment.write');
  await db().transaction(async (tx) => {
    const [row] = await tx
      .select({ authorId: comments.authorId, view: comments.view })
      .from(comments)
      .where(and(eq(comments.id, id), eq(comments.projectId, projectId), isNull(comments.deletedAt)))
      .for('update');
    if (!row) throw notFound('The comment');
    if (row.authorId !== actor.id && !may(role, 'comment.close')) throw forbidden();
    if (row.view !== null) throw new Problem(409, 'It has a view already. Say what else is to be seen in another one.');
    await checkGuestRoom(tx, actor, (picture?.length ?? 0) + sizeOfView(view));
    await tx.update(comments).set({ view, picture }).where(eq(comments.id, id));
  });
  await tellProject(projectId, 'comments-changed');
}
