import { groupBy } from '../group-by';
import {
  answersById,
  COMMENT_STATUSES,
  isOpen,
  KIND_WORDS,
  PRIORITIES,
  STATUS_WORDS,
  type Comment,
  type CommentKind,
  type CommentStatus,
  type Priority,
} from './comment';

/** What is looked for among comments. What is null does not matter. */
export interface CommentFilter {
  words: string;
  kind: CommentKind | null;
  /** Everything that is not closed yet, or what is at one status. */
  status: CommentStatus | 'not-closed' | null;
  priority: Priority | null;
  /** Name of who said it. */
  author: string | null;
  /** The meeting in which it was said; empty for outside of meetings. */
  meeting: string | null;
  /** Name of who is to do it; empty for nobody. */
  assignee: string | null;
  due: 'over' | 'week' | 'none' | null;
}

export const ALL_COMMENTS: CommentFilter = {
  words: '',
  kind: null,
  status: null,
  priority: null,
  author: null,
  meeting: null,
  assignee: null,
  due: null,
};

export const SORTS = ['number', 'due', 'priority', 'status'] as const;
export type CommentSort = (typeof SORTS)[number];
export const GROUPS = ['none', 'meeting', 'kind', 'status', 'assignee'] as const;
export type CommentGroup = (typeof GROUPS)[number];

const WEEK = 7;

/**
 * The comments that are looked for, replies apart. Words are found in what was said, answered, who said it and where.
 *
 * @param today the day on which is looked, such as 2026-11-29
 */
export function filterComments(all: readonly Comment[], filter: CommentFilter, today: string): Comment[] {
  const words = filter.words.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  const answers = answersById(all);
  const soon = dayAfter(today, WEEK);
  return all.filter((comment) => {
    if (comment.replyTo) return false;
    const { kind, assignee, dueOn } = comment;
    if (filter.kind !== null && kind !== filter.kind) return false;
    if (filter.status === 'not-closed' && !isOpen(comment)) return false;
    if (filter.status !== null && filter.status !== 'not-closed' && comment.status !== filter.status) return false;
    if (filter.priority !== null && comment.priority !== filter.priority) return false;
    if (filter.author !== null && comment.author !== filter.author) return false;
    if (filter.meeting !== null && (comment.meetingId ?? '') !== filter.meeting) return false;
    if (filter.assignee !== null && (assignee?.name ?? '') !== filter.assignee) return false;
    if (filter.due === 'none' && dueOn !== null) return false;
    if (filter.due === 'over' && !isOverdue(comment, today)) return false;
    if (filter.due === 'week' && (dueOn === null || dueOn > soon || !isOpen(comment))) return false;
    if (words.length === 0) return true;
    const said = [
      comment.text,
      comment.author,
      comment.elementName,
      String(comment.number),
      ...(answers.get(comment.id) ?? []).map(({ text }) => text),
    ]
      .join(' ')
      .toLocaleLowerCase();
    return words.every((word) => said.includes(word));
  });
}

/** Whether its day has passed and it is still open. */
export function isOverdue({ dueOn, status }: Pick<Comment, 'dueOn' | 'status'>, today: string): boolean {
  return dueOn !== null && dueOn < today && isOpen({ status });
}

/** In order: the newest number, what is due first, the most urgent, or what is least done. */
export function sortComments(comments: readonly Comment[], by: CommentSort): Comment[] {
  const newest = (a: Comment, b: Comment) => (b.number ?? 0) - (a.number ?? 0);
  const orders: Record<CommentSort, (a: Comment, b: Comment) => number> = {
    number: newest,
    due: (a, b) => (a.dueOn ?? '9999').localeCompare(b.dueOn ?? '9999'),
    priority: (a, b) => PRIORITIES.indexOf(b.priority) - PRIORITIES.indexOf(a.priority),
    status: (a, b) => COMMENT_STATUSES.indexOf(a.status) - COMMENT_STATUSES.indexOf(b.status),
  };
  return [...comments].sort((a, b) => orders[by](a, b) || newest(a, b));
}

/** Comments under headings, in the order in which the headings come first. */
export function groupComments(
  comments: readonly Comment[],
  by: CommentGroup,
  meetingTitle: (id: string) => string,
): { heading: string; comments: Comment[] }[] {
  const headings: Record<CommentGroup, (comment: Comment) => string> = {
    none: () => '',
    meeting: ({ meetingId }) => (meetingId ? meetingTitle(meetingId) : 'Outside of meetings'),
    kind: ({ kind }) => KIND_WORDS[kind],
    status: ({ status }) => STATUS_WORDS[status],
    assignee: ({ assignee }) => assignee?.name ?? 'Nobody',
  };
  const groups = groupBy(comments, headings[by]);
  return [...groups].map(([heading, own]) => ({ heading, comments: own }));
}

/** The days of the weeks that a month touches, from Monday on, such as 2026-11-29. @param month such as 2026-11 */
export function monthDays(month: string): string[] {
  const first = new Date(`${month}-01T00:00:00Z`);
  const next = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 1));
  const start = -((first.getUTCDay() + 6) % 7);
  const days = Math.round((next.getTime() - first.getTime()) / DAY_MS);
  const count = Math.ceil((days - start) / WEEK) * WEEK;
  return Array.from({ length: count }, (_, i) => dayAfter(`${month}-01`, start + i));
}

/** The month so many months later. */
export function monthAfter(month: string, by: number): string {
  const [year, number] = month.split('-').map(Number) as [number, number];
  return new Date(Date.UTC(year, number - 1 + by, 1)).toISOString().slice(0, 7);
}

const DAY_MS = 86_400_000;

function dayAfter(day: string, by: number): string {
  return new Date(Date.parse(`${day}T00:00:00Z`) + by * DAY_MS).toISOString().slice(0, 10);
}
