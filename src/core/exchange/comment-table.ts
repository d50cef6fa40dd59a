import type { Comment } from '../project/comment';

export type Cell = string | number | Date | null;

/** The columns of a table of what was said. */
export const COMMENT_COLUMNS = [
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
  'Viewpoint',
  'Confirmed by',
  'Files',
  'GUID',
] as const;

/** How meetings and viewpoints are called, by id. */
export interface TableNames {
  meeting(id: string): string;
  viewpoint(id: string): string;
}

/** What was said as a table, a row a comment or an answer; places in metres of the project. */
export function commentTable(comments: readonly Comment[], names: TableNames): Cell[][] {
  const numberOf = new Map(comments.map((comment) => [comment.id, comment.number]));
  return comments.map((comment) => {
    const { replyTo, anchor } = comment;
    const isAnswer = replyTo !== null;
    const [x, y, z] = anchor?.point.map((value) => Math.round(value * 1000) / 1000) ?? [null, null, null];
    return [
      comment.number,
      isAnswer ? (numberOf.get(replyTo) ?? null) : null,
      isAnswer ? '' : comment.kind,
      isAnswer ? '' : comment.status,
      comment.assignee?.name ?? '',
      comment.dueOn,
      isAnswer ? '' : comment.priority,
      new Date(comment.createdAt),
      comment.author,
      comment.guest ? 'yes' : 'no',
      comment.text,
      comment.elementName,
      anchor?.element?.guid ?? '',
      x!,
      y!,
      z!,
      comment.meetingId ? names.meeting(comment.meetingId) : '',
      comment.viewpointId ? names.viewpoint(comment.viewpointId) : '',
      comment.confirmedBy.map(({ name }) => name).join(', '),
      comment.files.map(({ name }) => name).join(', '),
      comment.guid,
    ];
  });
}
