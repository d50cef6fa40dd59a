import { and, asc, desc, eq, isNull, max, sql } from 'drizzle-orm';
import { stringify } from 'csv-stringify/sync';
import { v7 as uuidv7 } from 'uuid';
import type { MeetingSummary } from '@/core/meeting/meeting-record';
import type { Comment, CommentAnchor, CommentStatus } from '@/core/project/comment';
import { readView, type ViewState } from '@/core/view/view-state';
import { db } from '@/db/database';
import { comments, meetings, projects } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { announceSettled, lockMeeting, settleWithin } from './meeting-log';
import { notFound } from '../problems';

export interface NewComment {
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
  await authorise(actor, projectId, 'comment.write');
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
  return said.id;
}

/** All comments of a project, oldest first; replies follow in time. */
export async function listComments(actor: Actor, projectId: string): Promise<Comment[]> {
  await authorise(actor, projectId, 'comment.read');
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
      createdAt: comments.createdAt,
    })
    .from(comments)
    .where(eq(comments.projectId, projectId))
    .orderBy(asc(comments.createdAt));
  return rows.map((row) => ({
    ...row,
    view: row.view === null ? null : readView(row.view),
    createdAt: row.createdAt.toISOString(),
  }));
}

export async function setCommentStatus(
  actor: Actor,
  projectId: string,
  id: string,
  status: CommentStatus,
): Promise<void> {
  await authorise(actor, projectId, 'comment.close');
  const changed = await db()
    .update(comments)
    .set({ status })
    .where(and(eq(comments.id, id), eq(comments.projectId, projectId)))
    .returning({ id: comments.id });
  if (changed.length === 0) throw notFound('The comment');
  await tellProject(projectId, 'comments-changed');
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
    Status: comment.replyTo ? '' : comment.status,
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
    'Status',
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
