import { and, asc, eq } from 'drizzle-orm';
import type { Assignee, CommentChange } from '@/core/project/comment';
import { db } from '@/db/database';
import { members, user } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { Problem } from '../problems';

/** The members of a project, who can be asked to do something, by name. */
export async function listAssignees(actor: Actor, projectId: string): Promise<{ id: string; name: string }[]> {
  await authorise(actor, projectId, 'comment.close');
  return db()
    .select({ id: user.id, name: user.name })
    .from(members)
    .innerJoin(user, eq(user.id, members.userId))
    .where(eq(members.projectId, projectId))
    .orderBy(asc(user.name));
}

/**
 * Who is meant by an account or an address. An address of a member is that member.
 *
 * @throws Problem 400 for an account that is not in the project
 */
export async function knownAssignee(
  projectId: string,
  wanted: NonNullable<CommentChange['assignee']> | null,
): Promise<Assignee | null> {
  if (!wanted) return null;
  const [row] = await db()
    .select({ id: user.id, name: user.name, email: user.email })
    .from(members)
    .innerJoin(user, eq(user.id, members.userId))
    .where(
      and(
        eq(members.projectId, projectId),
        'id' in wanted ? eq(user.id, wanted.id) : eq(user.email, wanted.email.toLowerCase()),
      ),
    );
  if (row) return row;
  if ('id' in wanted) throw new Problem(400, 'That person is not a member of this project. Choose another one.');
  return { id: null, name: wanted.email, email: wanted.email };
}

/** How an assignee is stored with a comment: a member's address is the account's own. */
export function assigneeColumns(assignee: Assignee | null) {
  return {
    assigneeId: assignee?.id ?? null,
    assigneeName: assignee?.name ?? '',
    assigneeEmail: assignee?.id === null ? assignee.email : null,
  };
}
