import type { CommentKind, CommentStatus, Priority } from '../project/comment';
import type { SharedFields } from './shared-fields';

/** An issue as the tracker has it, in its own words. */
export interface TrackerIssue {
  id: string;
  version: number;
  body: string;
  type: 'note' | 'question' | 'decision' | 'task';
  state: 'todo' | 'doing' | 'review' | 'done' | 'again';
  owner: string;
  due: string;
  urgency: 'low' | 'normal' | 'high';
  deleted: boolean;
  /** Address of what it is about. */
  link: string;
  notes: { key: string; text: string; author: string; at: string }[];
}

export interface TrackerChanges {
  cursor: string;
  issues: TrackerIssue[];
}

const TYPES: Record<CommentKind, TrackerIssue['type']> = {
  remark: 'note',
  question: 'question',
  decision: 'decision',
  action: 'task',
};
const STATES: Record<CommentStatus, TrackerIssue['state']> = {
  open: 'todo',
  'in-work': 'doing',
  answered: 'review',
  closed: 'done',
  reopened: 'again',
};

/** What is shared, in the tracker's words; only those fields that are given. */
export function toTracker(fields: Partial<SharedFields>): Partial<TrackerIssue> {
  const { text, kind, status, assignee, dueOn, priority, deleted } = fields;
  return {
    ...(text !== undefined && { body: text }),
    ...(kind !== undefined && { type: TYPES[kind] }),
    ...(status !== undefined && { state: STATES[status] }),
    ...(assignee !== undefined && { owner: assignee }),
    ...(dueOn !== undefined && { due: dueOn }),
    ...(priority !== undefined && { urgency: priority }),
    ...(deleted !== undefined && { deleted }),
  };
}

/** An issue in our own words. */
export function fromTracker({ body, type, state, owner, due, urgency, deleted }: TrackerIssue): SharedFields {
  const named = <T extends string>(words: Record<T, string>, word: string) =>
    (Object.keys(words) as T[]).find((one) => words[one] === word)!;
  return {
    text: [...body].slice(0, 4000).join(''),
    kind: named(TYPES, type),
    status: named(STATES, state),
    assignee: owner,
    dueOn: due,
    priority: urgency satisfies Priority,
    deleted,
  };
}
