import { and, asc, eq, isNotNull, isNull, lte, ne, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import {
  KIND_WORDS,
  PRIORITY_WORDS,
  STATUS_WORDS,
  type Assignee,
  type CommentChange,
  type CommentHistory,
  type CommentStatus,
} from '@/core/project/comment';
import type { DueAction } from '@/core/project/due-action';
import { may, type Role } from '@/core/rights';
import { db, type Transaction } from '@/db/database';
import { commentChanges, comments, confirmations, members, projects, user } from '@/db/schema';
import { authorise, requireUser, type Actor } from '../access/access';
import { tellPerson, tellProject } from '../broadcast';
import { forbidden, notFound } from '../problems';
import { enqueueMail } from '../publishing/queue';
import { record } from './activities';
import { assigneeColumns, knownAssignee } from './assignees';

type Row = typeof comments.$inferSelect;

/**
 * Changes a comment; what was stays in its history. Words are changed by whoever said them; kind, assignee, day and priority by
 * those who manage what was said; the status by them and by whoever is to do it.
 *
 * @throws Problem 403 where this person may not change that, 404 where there is no such comment
 */
export function changeComment(actor: Actor, projectId: string, id: string, change: CommentChange): Promise<void> {
  return changeComments(actor, projectId, [id], change);
}

/** The same change of several comments: all of them, or none where one of them cannot be changed so. */
export async function changeComments(
  actor: Actor,
  projectId: string,
  ids: readonly string[],
  change: CommentChange,
): Promise<void> {
  const role = await authorise(actor, projectId, 'comment.write');
  const assignee = change.assignee === undefined ? undefined : await knownAssignee(projectId, change.assignee);
  const concerned = new Set<string>();
  const assigned: string[] = [];
  await db().transaction(async (tx) => {
    // Always in the same order, so that two who change the same do not wait for each other.
    for (const id of [...ids].sort()) {
      const outcome = await changeWithin(tx, { actor, role, projectId, id, change, assignee });
      if (outcome.isAssigned) assigned.push(id);
      for (const person of outcome.concerned) concerned.add(person);
    }
  });
  await tellProject(projectId, 'comments-changed');
  for (const person of concerned) await tellPerson(person);
  for (const id of assigned) await enqueueMail({ assignment: id, by: actor.id }, 0);
}

interface WantedChange {
  actor: Actor;
  role: Role;
  projectId: string;
  id: string;
  change: CommentChange;
  assignee: Assignee | null | undefined;
}

/** @returns whether somebody else is to do it now, and whose list has changed */
async function changeWithin(
  tx: Transaction,
  { actor, role, projectId, id, change, assignee }: WantedChange,
): Promise<{ isAssigned: boolean; concerned: string[] }> {
  const [row] = await tx
    .select()
    .from(comments)
    .where(and(eq(comments.id, id), eq(comments.projectId, projectId)))
    .for('update');
  // What is deleted can be brought back, and nothing else be done with it.
  if (!row || (row.deletedAt !== null) !== (change.deleted === false)) throw notFound('The comment');
  const isManager = may(role, 'comment.close');
  const isOwn = row.authorId === actor.id && may(role, 'comment.write');
  const { text, status, deleted, assignee: _, ...details } = change;
  if (text !== undefined && !isOwn) throw forbidden();
  if (deleted !== undefined && !isOwn && !isManager) throw forbidden();
  if (status !== undefined && !isManager && row.assigneeId !== actor.id) throw forbidden();
  if ((assignee !== undefined || Object.keys(details).length > 0) && !isManager) throw forbidden();
  const next: Partial<Row> = {
    ...details,
    ...(text !== undefined && text !== row.text && { text, editedAt: new Date() }),
    ...(status !== undefined && { status: statusAfter(row.status, status) }),
    ...(deleted !== undefined && { deletedAt: deleted ? new Date() : null }),
    ...(assignee !== undefined && assigneeColumns(assignee)),
    // Another day is worth another reminder.
    ...(details.dueOn !== undefined && details.dueOn !== row.dueOn && { remindedAt: null }),
  };
  await applyChange(tx, row, next, actor);
  return {
    isAssigned: Boolean(assignee) && (assignee!.id !== row.assigneeId || assignee!.name !== row.assigneeName),
    concerned: [row.assigneeId, assignee?.id].filter((one) => one != null),
  };
}

/**
 * Stores a change of a comment whose row this transaction has locked, with what was in its history. Whoever calls has made
 * sure that it may be changed so. Returns whether anything became different.
 */
export async function applyChange(
  tx: Transaction,
  row: Row,
  next: Partial<Row>,
  by: Pick<Actor, 'id' | 'name'>,
): Promise<boolean> {
  const changes = changesOf(row, next);
  if (changes.length === 0) return false;
  const { id, projectId, number, replyTo } = row;
  await tx.update(comments).set(next).where(eq(comments.id, id));
  await tx.insert(commentChanges).values({ id: uuidv7(), commentId: id, byName: by.name, byId: by.id, changes });
  // What was confirmed were other words.
  if (next.text !== undefined && next.text !== row.text)
    await tx.delete(confirmations).where(eq(confirmations.commentId, id));
  await record(tx, {
    projectId,
    by,
    kind: 'changed',
    subjectId: replyTo ?? id,
    text: `${number === null ? 'an answer' : `number ${number}`}: ${inWords(changes)}`,
  });
  return true;
}

/** What was changed, as one line: “status Open → Closed”. */
function inWords(changes: CommentHistory['changes']): string {
  return changes
    .map(
      ({ field, from, to }) =>
      field === 'Words' ? 'words changed' : field === 'Deleted' ? (to ? 'deleted' : 'brought back') : `${field.toLowerCase()} ${from || '–'} → ${to || '–'}`, // prettier-ignore
    )
    .join(', ');
}

/** What was closed and is open once more is reopened. */
function statusAfter(before: CommentStatus, wanted: CommentStatus): CommentStatus {
  return before === 'closed' && wanted === 'open' ? 'reopened' : wanted;
}

function changesOf(before: Row, next: Partial<Row>): CommentHistory['changes'] {
  const after = { ...before, ...next };
  const fields: [string, (row: Row) => string][] = [
    ['Words', ({ text }) => text],
    ['Kind', ({ kind }) => KIND_WORDS[kind]],
    ['Status', ({ status }) => STATUS_WORDS[status]],
    ['Assignee', ({ assigneeName }) => assigneeName],
    ['Due', ({ dueOn }) => dueOn ?? ''],
    ['Priority', ({ priority }) => PRIORITY_WORDS[priority]],
    ['Deleted', ({ deletedAt }) => (deletedAt ? 'yes' : '')],
  ];
  return fields.flatMap(([field, words]) => {
    const [from, to] = [words(before), words(after)];
    return from === to ? [] : [{ field, from, to }];
  });
}

/** Everything that was changed of a comment, oldest first. */
export async function commentHistory(actor: Actor, projectId: string, id: string): Promise<CommentHistory[]> {
  await authorise(actor, projectId, 'comment.read');
  const rows = await db()
    .select({ at: commentChanges.at, by: commentChanges.byName, changes: commentChanges.changes })
    .from(commentChanges)
    .innerJoin(comments, eq(comments.id, commentChanges.commentId))
    .where(and(eq(comments.id, id), eq(comments.projectId, projectId)))
    .orderBy(asc(commentChanges.at), asc(commentChanges.id));
  return rows.map((row) => ({ ...row, at: row.at.toISOString() }));
}

/** What this person is to do, over all projects that they are in: what is due first comes first. */
export async function ownActions(actor: Actor): Promise<DueAction[]> {
  requireUser(actor);
  const rows = await db()
    .select({
      id: comments.id,
      projectId: projects.id,
      projectName: projects.name,
      number: comments.number,
      text: comments.text,
      kind: comments.kind,
      status: comments.status,
      dueOn: comments.dueOn,
      priority: comments.priority,
      by: comments.authorName,
      hasPicture: sql<boolean>`${comments.picture} is not null`,
    })
    .from(comments)
    .innerJoin(projects, eq(projects.id, comments.projectId))
    .innerJoin(members, and(eq(members.projectId, projects.id), eq(members.userId, actor.id)))
    .where(and(eq(comments.assigneeId, actor.id), ne(comments.status, 'closed'), isNull(comments.deletedAt)))
    .orderBy(sql`${comments.dueOn} asc nulls last`, asc(comments.createdAt));
  return rows;
}

/** What is due within so many days is reminded of, once. */
const REMINDED_DAYS = 2;

/** Asks for reminders of what is due soon. Returns how many. */
export async function remindOfActions(): Promise<number> {
  const rows = await db()
    .update(comments)
    .set({ remindedAt: new Date() })
    .where(
      and(
        isNotNull(comments.dueOn),
        lte(comments.dueOn, sql`current_date + ${REMINDED_DAYS}::int`),
        ne(comments.status, 'closed'),
        ne(comments.assigneeName, ''),
        isNull(comments.remindedAt),
        isNull(comments.deletedAt),
      ),
    )
    .returning({ id: comments.id });
  for (const { id } of rows) await enqueueMail({ reminder: id }, 0);
  return rows.length;
}

/** What a mail about an action needs; null where nobody is to do it any more. */
export async function assignmentOf(id: string) {
  const [row] = await db()
    .select({ comment: comments, project: projects.name, memberEmail: user.email })
    .from(comments)
    .innerJoin(projects, eq(projects.id, comments.projectId))
    .leftJoin(user, eq(user.id, comments.assigneeId))
    .where(and(eq(comments.id, id), isNull(comments.deletedAt)));
  const to = row?.memberEmail ?? row?.comment.assigneeEmail;
  return row && to && row.comment.status !== 'closed' ? { ...row, to, isMember: row.memberEmail !== null } : null;
}
