import { and, asc, desc, eq, isNull, max, sql } from 'drizzle-orm';
import { stringify } from 'csv-stringify/sync';
import { v7 as uuidv7 } from 'uuid';
import type { MeetingSummary } from '@/core/meeting/meeting-record';
import type { Comment, CommentAnchor, CommentChange } from '@/core/project/comment';
import { may } from '@/core/rights';
import { readView, type ViewState } from '@/core/view/view-state';
import { db } from '@/db/database';
import { comments, meetings, projects } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { announceSettled, lockMeeting, settleWithin } from './meeting-log';
import { forbidden, notFound } from '../problems';
import { enqueueMail } from '../publishing/queue';
import { assigneeColumns, knownAssignee } from './assignees';

export interface NewComment extends Pick<CommentChange, 'kind' | 'assignee' | 'dueOn' | 'priority'> {
  text: string;
  replyTo?: string;
  anchor?: CommentAnchor;
  elementName?: string;
  view?: ViewState;
  picture?: Buffer;
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
  if (isManaged && !may(role, 'comment.close')) throw forbidden();
  const assignee = await knownAssignee(projectId, comment.assignee ?? null);
  const [running] = await db()
    .select({ id: meetings.id })
    .from(meetings)
    .where(and(eq(meetings.projectId, projectId), isNull(meetings.endedAt)));
  const said = await db().transaction(async (tx) => {
    await tx.select({ id: projects.id }).from(projects).where(eq(projects.id, projectId)).for('update');
    if (requestKey !== null) {
      const [before] = await tx
        .select({ id: comments.id })
        .from(comments)
        .where(and(eq(comments.projectId, projectId), eq(comments.requestKey, requestKey)));
      if (before) return { id: before.id, isNew: false, settled: null };
    }
    if (comment.replyTo) {
      const [parent] = await tx
        .select({ id: comments.id })
        .from(comments)
        .where(and(eq(comments.id, comment.replyTo), eq(comments.projectId, projectId)));
      if (!parent) throw notFound('The comment you answer');
    }
    // The meeting may have ended meanwhile; what was said then stands by itself.
    const locked = running && (await lockMeeting(tx, running.id));
    const meetingId = locked && locked.endedAt === null ? locked.id : null;
    const [last] = await tx
      .select({ number: max(comments.number) })
      .from(comments)
      .where(eq(comments.projectId, projectId));
    const id = uuidv7();
    await tx.insert(comments).values({
      id,
      projectId,
      meetingId,
      number: comment.replyTo ? null : (last?.number ?? 0) + 1,
      replyTo: comment.replyTo,
      text: comment.text,
      authorName: actor.name,
      authorId: actor.id,
      guest: actor.kind === 'guest',
      anchor: comment.anchor,
      elementName: comment.elementName ?? '',
      kind,
      dueOn,
      priority,
      ...assigneeColumns(assignee),
      view: comment.view,
      picture: comment.picture,
      requestKey,
    });
    const settled =
      meetingId && !comment.replyTo
        ? { meetingId, event: await settleWithin(tx, meetingId, null, { type: 'commented', comment: id }) }
        : null;
    return { id, isNew: true, settled };
  });
  if (said.settled) await announceSettled(said.settled.meetingId, projectId, said.settled.event);
  if (said.isNew) await tellProject(projectId, 'comments-changed');
  if (said.isNew && assignee) await enqueueMail({ assignment: said.id }, 0);
  return said.id;
}

/** All comments of a project that are not deleted, oldest first; replies follow in time. */
export async function listComments(actor: Actor, projectId: string): Promise<Comment[]> {
  const role = await authorise(actor, projectId, 'comment.read');
  const maySeeAddresses = may(role, 'comment.close');
  const rows = await db()
    .select({
      id: comments.id,
      number: comments.number,
      meetingId: comments.meetingId,
      replyTo: comments.replyTo,
      text: comments.text,
      author: comments.authorName,
      guest: comments.guest,
      anchor: comments.anchor,
      elementName: comments.elementName,
      view: comments.view,
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
    .where(and(eq(comments.projectId, projectId), isNull(comments.deletedAt)))
    .orderBy(asc(comments.createdAt));
  return rows.map(({ assigneeId, assigneeName, assigneeEmail, authorId, ...row }) => ({
    ...row,
    view: row.view === null ? null : readView(row.view),
    assignee: assigneeName
      ? { id: assigneeId, name: assigneeName, email: maySeeAddresses ? assigneeEmail : null }
      : null,
    isOwn: authorId === actor.id,
    editedAt: row.editedAt?.toISOString() ?? null,
    createdAt: row.createdAt.toISOString(),
  }));
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
  }));
}

/** The comments as CSV (RFC 4180, with a byte order mark so that spreadsheets read it as UTF-8). */
export async function commentsCsv(actor: Actor, projectId: string): Promise<string> {
  await authorise(actor, projectId, 'minutes.read');
  const list = await listComments(actor, projectId);
  const meetingTitles = new Map((await listMeetings(actor, projectId)).map((meeting) => [meeting.id, meeting.title]));
  const numberOf = new Map(list.map((comment) => [comment.id, comment.number]));
  const rows = list.map((comment) => ({
    Number: comment.number ?? '',
    'Answers number': comment.replyTo ? (numberOf.get(comment.replyTo) ?? '') : '',
    Kind: comment.replyTo ? '' : comment.kind,
    Status: comment.replyTo ? '' : comment.status,
    Assignee: comment.assignee?.name ?? '',
    Due: comment.dueOn ?? '',
    Priority: comment.replyTo ? '' : comment.priority,
    Time: comment.createdAt,
    Author: comment.author,
    Guest: comment.guest ? 'yes' : 'no',
    Text: comment.text,
    Element: comment.elementName,
    'Element GUID': comment.anchor?.element?.guid ?? '',
    X: comment.anchor?.point[0].toFixed(3) ?? '',
    Y: comment.anchor?.point[1].toFixed(3) ?? '',
    Z: comment.anchor?.point[2].toFixed(3) ?? '',
    Meeting: comment.meetingId ? (meetingTitles.get(comment.meetingId) ?? '') : '',
  }));
  const columns = [
    'Number',
    'Answers number',
    'Kind',
    'Status',
    'Assignee',
    'Due',
    'Priority',
    'Time',
    'Author',
    'Guest',
    'Text',
    'Element',
    'Element GUID',
    'X',
    'Y',
    'Z',
    'Meeting',
  ];
  // escape_formulas: a text that starts with = + - @ must not run as a formula in a spreadsheet.
  return stringify(rows, { header: true, columns, bom: true, escape_formulas: true, record_delimiter: 'windows' });
}
