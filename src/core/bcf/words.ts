import {
  COMMENT_KINDS,
  COMMENT_STATUSES,
  KIND_WORDS,
  PRIORITIES,
  PRIORITY_WORDS,
  STATUS_WORDS,
  type CommentKind,
  type CommentStatus,
  type Priority,
} from '../project/comment';

/** BCF lets every project choose its own words; these are ours for those of others. */

/** Our own word for one of a file, whatever its case. */
function ownWord<T extends string>(all: readonly T[], words: Record<T, string>, text: string): T | undefined {
  const wanted = text.trim().toLowerCase();
  return all.find((one) => words[one].toLowerCase() === wanted);
}

/** What other programs call what is to be done, what is asked, what was decided. */
export function kindNamed(text: string): CommentKind {
  const own = ownWord(COMMENT_KINDS, KIND_WORDS, text);
  if (own) return own;
  if (/question|inquiry|enquiry|request for information|\brfi\b/i.test(text)) return 'question';
  if (/decision|approval/i.test(text)) return 'decision';
  if (/issue|clash|error|fault|defect|task|request|action|problem/i.test(text)) return 'action';
  return 'remark';
}

export function statusNamed(text: string): CommentStatus {
  const own = ownWord(COMMENT_STATUSES, STATUS_WORDS, text);
  if (own) return own;
  if (/re-?open/i.test(text)) return 'reopened';
  if (/closed|done|resolved|approved|solved/i.test(text)) return 'closed';
  if (/answer|review|fixed/i.test(text)) return 'answered';
  if (/progress|work|active|assigned/i.test(text)) return 'in-work';
  return 'open';
}

export function priorityNamed(text: string): Priority {
  const own = ownWord(PRIORITIES, PRIORITY_WORDS, text);
  if (own) return own;
  if (/high|critical|urgent|major|blocker/i.test(text)) return 'high';
  return /low|minor|trivial/i.test(text) ? 'low' : 'normal';
}

const TITLE = 120;

/** A topic's title: the first line of what was said. */
export function titleOf(text: string, number: number | null): string {
  return text.split('\n')[0]!.slice(0, TITLE) || `Comment ${number}`;
}

/** What was said, of a title and a description: our own titles are the beginning of the description. */
export function joinedText(title: string, description: string): string {
  const text = !title || description.startsWith(title) ? description || title : `${title}\n${description}`.trim();
  return [...text].slice(0, MOST_TEXT).join('');
}

/** As much as a comment holds. */
const MOST_TEXT = 4000;
