import { eq } from 'drizzle-orm';
import { createEvents, type EventAttributes } from 'ics';
import writeXlsxFile from 'write-excel-file/node';
import { COMMENT_COLUMNS, commentTable, type Cell } from '@/core/exchange/comment-table';
import { csvOf } from '@/core/exchange/csv';
import { isOpen, PRIORITY_WORDS, STATUS_WORDS, type Comment } from '@/core/project/comment';
import { db } from '@/db/database';
import { meetings, viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { config } from '../config';
import { readProject } from '../projects/projects';
import { listComments } from '../review/comments';

/** Sheets hold no longer texts. */
const MOST_CELL = 32_767;

/** What was said in a project as CSV. @see asCsv */
export async function commentsCsv(actor: Actor, projectId: string): Promise<string> {
  await authorise(actor, projectId, 'minutes.read');
  return asCsv(await tableOf(projectId, await listComments(actor, projectId)));
}

/** The same as a workbook (Office Open XML) with one sheet, whose times and numbers are times and numbers. */
export async function commentsXlsx(actor: Actor, projectId: string): Promise<Buffer> {
  await authorise(actor, projectId, 'minutes.read');
  const rows = await tableOf(projectId, await listComments(actor, projectId));
  const head = COMMENT_COLUMNS.map((value) => ({ value: value as string, fontWeight: 'bold' as const }));
  return writeXlsxFile([head, ...rows.map((row) => row.map(asCell))], {
    sheet: 'Comments',
    stickyRowsCount: 1,
    columns: COMMENT_COLUMNS.map((name) => ({ width: name === 'Text' ? 60 : 16 })),
  }).toBuffer();
}

/** What is to be done and has a day, as a calendar (RFC 5545) of whole days. */
export async function commentsIcs(actor: Actor, projectId: string): Promise<string> {
  await authorise(actor, projectId, 'minutes.read');
  const [project, all] = await Promise.all([readProject(actor, projectId), listComments(actor, projectId)]);
  const due = all.filter((comment) => comment.dueOn !== null && isOpen(comment));
  const { error, value } = createEvents(
    due.map((comment) => eventOf(comment, project)),
    {
      productId: 'Yurta',
      calName: project.name,
    },
  );
  if (error) throw error;
  return value!;
}

/** Rows of a table of comments as CSV, under the names of its columns. */
export function asCsv(rows: readonly (readonly Cell[])[]): string {
  return csvOf([COMMENT_COLUMNS, ...rows]);
}

export async function tableOf(projectId: string, comments: readonly Comment[]): Promise<Cell[][]> {
  const [held, shown] = await Promise.all([
    db().select({ id: meetings.id, name: meetings.title }).from(meetings).where(eq(meetings.projectId, projectId)),
    db()
      .select({ id: viewpoints.id, name: viewpoints.name })
      .from(viewpoints)
      .where(eq(viewpoints.projectId, projectId)),
  ]);
  const names = new Map([...held, ...shown].map(({ id, name }) => [id, name]));
  const named = (id: string) => names.get(id) ?? '';
  return commentTable(comments, { meeting: named, viewpoint: named });
}

function asCell(value: Cell) {
  if (value === null || value === '') return null;
  if (typeof value === 'number') return { type: Number, value };
  if (value instanceof Date) return { type: Date, value, format: 'yyyy-mm-dd hh:mm' };
  return { type: String, value: value.slice(0, MOST_CELL) };
}

function eventOf(comment: Comment, project: { id: string; name: string }): EventAttributes {
  const { guid, id, number, text, dueOn, assignee, priority, status } = comment;
  const [year, month, day] = dueOn!.split('-').map(Number) as [number, number, number];
  return {
    uid: guid,
    start: [year, month, day],
    duration: { days: 1 },
    title: `${number}: ${text.split('\n')[0]!.slice(0, 120)}`,
    description: [text, assignee ? `For ${assignee.name}` : '', `${PRIORITY_WORDS[priority]} priority, ${STATUS_WORDS[status].toLowerCase()}`].filter(Boolean).join('\n'), // prettier-ignore
    url: `${config().publicUrl}/projects/${project.id}/review?comment=${id}`,
    categories: [project.name],
    busyStatus: 'FREE',
    transp: 'TRANSPARENT',
  };
}
