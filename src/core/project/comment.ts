import { groupBy } from '../group-by';
import type { Vec3 } from '../math/mat4';
import type { SharedFields } from '../exchange/shared-fields';
import type { ElementRef } from '../elements/element-ref';

/** The place that a comment speaks of, in project coordinates. */
export interface CommentAnchor {
  element: ElementRef | null;
  point: Vec3;
}

/** What is said: a remark, something to be answered, something decided, something to be done. */
export const COMMENT_KINDS = ['remark', 'question', 'decision', 'action'] as const;
export type CommentKind = (typeof COMMENT_KINDS)[number];

export const KIND_WORDS: Record<CommentKind, string> = {
  remark: 'Remark',
  question: 'Question',
  decision: 'Decision',
  action: 'Action',
};

export const COMMENT_STATUSES = ['open', 'in-work', 'answered', 'closed', 'reopened'] as const;
export type CommentStatus = (typeof COMMENT_STATUSES)[number];

export const STATUS_WORDS: Record<CommentStatus, string> = {
  open: 'Open',
  'in-work': 'In work',
  answered: 'Answered',
  closed: 'Closed',
  reopened: 'Reopened',
};

export const PRIORITIES = ['low', 'normal', 'high'] as const;
export type Priority = (typeof PRIORITIES)[number];

export const PRIORITY_WORDS: Record<Priority, string> = { low: 'Low', normal: 'Normal', high: 'High' };

/** Who is to do something: a member of the project, or somebody by their address. */
export interface Assignee {
  /** Account; null of somebody who has none here. */
  id: string | null;
  name: string;
  /** Only for those who may manage what was said. */
  email: string | null;
}

/** What is known of a comment beside its words. */
export interface CommentDetails {
  kind: CommentKind;
  status: CommentStatus;
  assignee: Assignee | null;
  /** The day by which it is to be done, such as 2026-12-24. */
  dueOn: string | null;
  priority: Priority;
}

/** What can be changed of a comment afterwards. */
export interface CommentChange extends Partial<Omit<CommentDetails, 'assignee'>> {
  text?: string;
  /** By account, or by address; null for nobody. */
  assignee?: { id: string } | { email: string } | null;
  deleted?: boolean;
}

/** One change of a comment, by field what it was and what it became, in words. */
export interface CommentHistory {
  at: string;
  by: string;
  changes: { field: string; from: string; to: string }[];
}

/** The answers to each comment, by its id, in the order in which they were given. */
export function answersById<T extends { replyTo: string | null }>(comments: readonly T[]): Map<string, T[]> {
  return groupBy(
    comments.filter((comment): comment is T & { replyTo: string } => comment.replyTo !== null),
    ({ replyTo }) => replyTo,
  );
}

/** Whether something is still to be done about a comment. */
export function isOpen({ status }: Pick<CommentDetails, 'status'>): boolean {
  return status !== 'closed';
}

/** A picture or a file that goes with a comment. */
export interface Attachment {
  id: string;
  name: string;
  /** Media type of its content. */
  type: string;
  /** In bytes. */
  size: number;
  /** In pixels, of a picture; null of other files. */
  width: number | null;
  height: number | null;
}

/** As many go with one comment, each of at most so many bytes. */
export const MOST_ATTACHMENTS = 12;
export const MOST_ATTACHMENT_BYTES = 20 * 1024 * 1024;

export interface Comment extends CommentDetails {
  id: string;
  /** By which other programs know it. */
  guid: string;
  /** Counted within the project; null for a reply. */
  number: number | null;
  meetingId: string | null;
  replyTo: string | null;
  text: string;
  author: string;
  guest: boolean;
  anchor: CommentAnchor | null;
  elementName: string;
  /** Whether it holds a view; that itself is fetched when somebody goes there. */
  hasView: boolean;
  hasPicture: boolean;
  files: Attachment[];
  /** The viewpoint that a decision ends; null of everything else. */
  viewpointId: string | null;
  /** Who said in the meeting that a decision stands as it is written. */
  confirmedBy: { id: string; name: string }[];
  /** What a tracker says otherwise, where both sides have changed the same; null without a conflict. */
  conflict: Partial<SharedFields> | null;
  /** Whether the one who asks said it. */
  isOwn: boolean;
  /** When its words were changed last; null where they stand as they were said. */
  editedAt: string | null;
  createdAt: string;
}
