import type { CommentKind } from '../project/comment';
import type { MeetingSummary } from './meeting-record';

/** What the lead has corrected of minutes before they are sent. What was said stays as it was said elsewhere. */
export interface MinutesCorrections {
  /** Stands before everything else. */
  foreword: string;
  /** Other words for what was said or decided, by comment. */
  words: Record<string, string>;
  /** Comments that are left out. */
  left: string[];
}

/** Minutes as somebody corrects them: what was said, and what stands in the minutes instead. */
export interface MinutesDraft {
  meeting: MeetingSummary;
  corrections: MinutesCorrections;
  said: { id: string; number: number; author: string; kind: CommentKind; text: string }[];
}
