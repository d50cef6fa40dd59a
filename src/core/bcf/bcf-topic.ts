import type { Comment } from '../project/comment';

/** A comment with its answers and its picture, as it goes into a BCF file. */
export interface BcfTopic {
  comment: Comment;
  replies: readonly Comment[];
  /** JPEG or PNG; null where there is none. */
  picture: Uint8Array | null;
}

/** What our own view holds beside what BCF has words for lies in this file of a topic, as JSON. */
export const EXTENSION_FILE = 'yurta.json';
