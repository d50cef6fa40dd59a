import { and, asc, desc, eq, inArray, isNotNull, isNull, max, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { groupBy } from '@/core/group-by';
import type { MeetingSummary } from '@/core/meeting/meeting-record';
import type { Comment, CommentAnchor, CommentChange } from '@/core/project/comment';
import { may } from '@/core/rights';
import { readView, type ViewState } from '@/core/view/view-state';
import { db } from '@/db/database';
import { comments, confirmations, meetings, models, trackedIssues } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellPerson, tellProject } from '../broadcast';
import { announceSettled, lockMeeting, settleWithin } from './meeting-log';
import { forbidden, notFound, Problem } from '../problems';
import { holdProject } from '../projects/hold-project';
import { enqueueMail } from '../publishing/queue';
import { record } from './activities';
import { assigneeColumns, knownAssignee } from './assignees';
import { attachmentsOf } from './attachments';
import { checkGuestRoom, sizeOfView } from './guest-room';
import { checkViewpoint, leadsMeeting, runningIn } from './decisions';
import { tellMentioned } from './mentioned';

export interface NewComment extends Pick<CommentChange, 'kind' | 'assignee' | 'dueOn' | 'priority'> {
  text: string;
  replyTo?: string;
  anchor?: CommentAnchor;
  elementName?: string;
  view?: ViewState;
  picture?: Buffer;
  /** The viewpoint that a decision ends. */
  viewpointId?: string;
  /** By which the program that says it knows it. */
  guid?: string;
}

/** What somebody points at is in this project. @throws Problem 400 */
async function checkAnchor(projectId: string, anchor: CommentAnchor | undefined): Promise<void> {
  if (!anchor?.element) return;
  const [model] = await db()
    .select({ id: models.id })
    .from(models)
    .where(and(eq(models.id, anchor.element.model), eq(models.projectId, projectId)));
  if (!model) throw new Problem(400, 'What this is about is not in this project.');
}

/**
 * Stores a comment or a reply and shows it to everyone at once; during a meeting it becomes part of the meeting. Returns its
 * id.
 *
 * @param requestKey what the request is known by: the same one again says nothing twice
 */
export async function say(
  actor: Actor,
  projectId: string,
  comment: NewComment,
  requestKey: string | null = null,
): Promise<string> {
  const role = await authorise(actor, projectId, 'comment.write');
  const { kind = 'remark', dueOn = null, priority = 'normal' } = comment;
  const isManaged = kind === 'decision' || kind === 'action' || comment.assignee != null || dueOn !== null;
  // Whoever leads a meeting takes its decisions, also a guest who was passed the lead.
  const isLead = kind === 'decision' && (await leadsMeeting(actor, projectId));
  if (isManaged && !isLead && !may(role, 'comment.close')) throw forbidden();
  if (comment.viewpointId) {
    if (kind !== 'decision') throw new Problem(400, 'Only a decision ends a viewpoint.');
    await checkViewpoint(projectId, comment.viewpointId);
  }
  await checkAnchor(projectId, comment.anchor);
  const assignee = await knownAssignee(projectId, comment.assignee ?? null);
  const running = await runningIn(projectId);
  const said = await db().transaction(async (tx) => {
    await holdProject(tx, projectId);
    if (requestKey !== null) {
      const [before] = await tx
        .select({ id: comments.id })
        .from(comments)
        .where(and(eq(comments.projectId, projectId), eq(comments.requestKey, requestKey)));
      if (before) return { id: before.id, isNew: false, settled: null };
    }
    if (comment.guid) {
      const [taken] = await tx
        .select({ id: comments.id })
        .from(comments)
        .where(and(eq(comments.projectId, projectId), eq(comments.guid, comment.guid)));
      if (taken) throw new Problem(409, 'Something with this GUID has been said here already.');
    }
    if (comment.replyTo) {
      const [parent] = await tx
        .select({ id: comments.id })
        .from(comments)
        .where(
          and(
            eq(comments.id, comment.replyTo),
            eq(comments.projectId, projectId),
            isNull(comments.replyTo),
            isNull(comments.deletedAt),
          ),
        );
      if (!parent) throw notFound('The comment you answer');
    }
    // The meeting may have ended meanwhile; what was said then stands by itself.
    const locked = running === null ? undefined : await lockMeeting(tx, running);
    const meetingId = locked && locked.endedAt === null ? locked.id : null;
    const [last] = await tx
      .select({ number: max(comments.number) })
      .from(comments)
      .where(eq(comments.projectId, projectId));
    await checkGuestRoom(tx, actor, (comment.picture?.length ?? 0) + sizeOfView(comment.view));
    const id = uuidv7();
    await tx.insert(comments).values({
      id,
      guid: comment.guid ?? id,
      projectId,
      meetingId,
      viewpointId: comment.viewpointId,
      number: comment.replyTo ? null : (last?.number ?? 0) + 1,
      replyTo: comment.replyTo,
      text: comment.text,
      authorName: actor.name,
      authorId: actor.id,
      guest: actor.kind === 'guest',
      anchor: comment.anchor,
      elementName: comment.elementName ?? '',
      kind,
      // What is decided is done; what follows from it is said by itself.
      ...(comment.viewpointId && { status: 'closed' as const }),
      dueOn,
      priority,
      ...assigneeColumns(assignee),
      view: comment.view,
      picture: comment.picture,
      requestKey,
    });
    await record(tx, {
      projectId,
      by: actor,
      kind: comment.replyTo ? 'answered' : kind === 'decision' ? 'decided' : 'said',
      subjectId: comment.replyTo ?? id,
      text: comment.text,
    });
    const settled =
      meetingId && !comment.replyTo
        ? { meetingId, event: await settleWithin(tx, meetingId, null, { type: 'commented', comment: id }) }
        : null;
    return { id, isNew: true, settled };
  });
  if (said.settled) await announceSettled(said.settled.meetingId, projectId, said.settled.event);
  if (said.isNew) await tellProject(projectId, 'comments-changed');
  if (said.isNew && assignee?.id) await tellPerson(assignee.id);
  if (said.isNew && assignee) await enqueueMail({ assignment: said.id, by: actor.id }, 0);
  if (said.isNew) await tellMentioned(actor, projectId, said.id, comment.text);
  return said.id;
}

/** All comments of a project that are not deleted, oldest first; replies follow in time. */
export async function listComments(actor: Actor, projectId: string): Promise<Comment[]> {
  const role = await authorise(actor, projectId, 'comment.read');
  return commentsFor(projectId, actor.id, may(role, 'comment.close'));
}

/** The same for what is done in nobody's name; without addresses, and nothing of it is one's own. */
export function allComments(projectId: string): Promise<Comment[]> {
  return commentsFor(projectId, null, false);
}

async function commentsFor(projectId: string, reader: string | null, maySeeAddresses: boolean): Promise<Comment[]> {
  const [rows, files, confirmed] = await Promise.all([
    commentRows(projectId),
    attachmentsOf(projectId),
    confirmationsOf(projectId),
  ]);
  return rows.map(({ assigneeId, assigneeName, assigneeEmail, authorId, conflict, ...row }) => ({
    ...row,
    assignee: assigneeName
      ? { id: assigneeId, name: assigneeName, email: maySeeAddresses ? assigneeEmail : null }
      : null,
    files: files.get(row.id) ?? [],
    confirmedBy: confirmed.get(row.id) ?? [],
    conflict: maySeeAddresses ? conflict : null,
    isOwn: reader !== null && authorId === reader,
    editedAt: row.editedAt?.toISOString() ?? null,
    createdAt: row.createdAt.toISOString(),
  }));
}

function commentRows(projectId: string) {
  return db()
    .select({
      id: comments.id,
      guid: comments.guid,
      viewpointId: comments.viewpointId,
      conflict: trackedIssues.conflict,
      number: comments.number,
      meetingId: comments.meetingId,
      replyTo: comments.replyTo,
      text: comments.text,
      author: comments.authorName,
      guest: comments.guest,
      anchor: comments.anchor,
      elementName: comments.elementName,
      hasView: sql<boolean>`${comments.view} is not null`,
      hasPicture: sql<boolean>`${comments.picture} is not null`, // the bytes stay where they are
      status: comments.status,
      kind: comments.kind,
      assigneeId: comments.assigneeId,
      assigneeName: comments.assigneeName,
      assigneeEmail: comments.assigneeEmail,
      dueOn: comments.dueOn,
      priority: comments.priority,
      authorId: comments.authorId,
      editedAt: comments.editedAt,
      createdAt: comments.createdAt,
    })
    .from(comments)
    .leftJoin(trackedIssues, eq(trackedIssues.commentId, comments.id))
    .where(and(eq(comments.projectId, projectId), isNull(comments.deletedAt)))
    .orderBy(asc(comments.createdAt), asc(comments.id));
}

/** Who has confirmed each decision of a project, in order. */
async function confirmationsOf(projectId: string): Promise<Map<string, { id: string; name: string }[]>> {
  const rows = await db()
    .select({ commentId: confirmations.commentId, id: confirmations.byId, name: confirmations.byName })
    .from(confirmations)
    .innerJoin(comments, eq(comments.id, confirmations.commentId))
    .where(eq(comments.projectId, projectId))
    .orderBy(asc(confirmations.at));
  const groups = groupBy(rows, ({ commentId }) => commentId);
  return new Map([...groups].map(([id, own]) => [id, own.map(({ commentId: _, ...one }) => one)]));
}

/** What was seen when something was said. @throws Problem 404 where it was said without a view */
export async function commentView(actor: Actor, projectId: string, id: string): Promise<ViewState> {
  await authorise(actor, projectId, 'comment.read');
  const view = (await commentViews([id], projectId)).get(id);
  if (!view) throw notFound('The view');
  return view;
}

/** The views of comments that have one, by comment. */
export async function commentViews(ids: readonly string[], projectId: string): Promise<Map<string, ViewState>> {
  if (ids.length === 0) return new Map();
  const rows = await db()
    .select({ id: comments.id, view: comments.view })
    .from(comments)
    .where(
      and(
        eq(comments.projectId, projectId),
        inArray(comments.id, [...ids]),
        isNotNull(comments.view),
        isNull(comments.deletedAt),
      ),
    );
  return new Map(rows.map(({ id, view }) => [id, readView(view)]));
}

export async function commentPicture(actor: Actor, projectId: string, id: string): Promise<Buffer> {
  await authorise(actor, projectId, 'comment.read');
  const [row] = await db()
    .select({ picture: comments.picture })
    .from(comments)
    .where(and(eq(comments.id, id), eq(comments.projectId, projectId)));
  if (!row?.picture) throw notFound('The picture');
  return row.picture;
}

export async function listMeetings(actor: Actor, projectId: string): Promise<MeetingSummary[]> {
  await authorise(actor, projectId, 'minutes.read');
  const rows = await db()
    .select()
    .from(meetings)
    .where(eq(meetings.projectId, projectId))
    .orderBy(desc(meetings.startedAt));
  return rows.map((row) => ({
    id: row.id,
    title: row.title,
    startedAt: row.startedAt.toISOString(),
    endedAt: row.endedAt?.toISOString() ?? null,
    waits: row.endedAt !== null && row.isHeld,
  }));
}
