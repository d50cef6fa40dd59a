import type { CommentKind, CommentStatus, Priority } from '../project/comment';

/** What a comment here and an issue in a tracker both know of the same thing. */
export interface SharedFields {
  text: string;
  kind: CommentKind;
  status: CommentStatus;
  /** Mail address; empty where nobody is to do it. */
  assignee: string;
  dueOn: string;
  priority: Priority;
  deleted: boolean;
}

export const SHARED_FIELDS = [
  'text',
  'kind',
  'status',
  'assignee',
  'dueOn',
  'priority',
  'deleted',
] as const satisfies readonly (keyof SharedFields)[];

/** What of each side goes to the other. */
export interface Merged {
  /** What this side takes over. */
  here: Partial<SharedFields>;
  /** What the other side takes over. */
  there: Partial<SharedFields>;
  /** What the other side says where both have changed the same to something else: a person decides. */
  conflict: Partial<SharedFields>;
}

/**
 * Three-way merge, field by field: what only one side has changed since both agreed goes to the other; what both have
 * changed to the same is settled; what both have changed to different things is a conflict, and nothing of it moves.
 */
export function mergeFields(agreed: SharedFields, here: SharedFields, there: SharedFields): Merged {
  const merged: Merged = { here: {}, there: {}, conflict: {} };
  for (const field of SHARED_FIELDS) {
    if (here[field] === there[field]) continue;
    const side = agreed[field] === here[field] ? merged.here : agreed[field] === there[field] ? merged.there : null;
    Object.assign(side ?? merged.conflict, { [field]: side === merged.there ? here[field] : there[field] });
  }
  return merged;
}
