import type { Comment } from '../project/comment';
import type { ViewState } from '../view/view-state';

/** A picture or file that goes into a BCF file. */
export interface BcfDocument {
  /** GUID under which topics refer to it. */
  id: string;
  /** GUID of the comment that it goes with. */
  comment: string;
  name: string;
  content: Uint8Array;
}

/** Something that was said, with what was seen. */
export interface BcfSaid {
  comment: Comment;
  view: ViewState | null;
  /** The view with its elements named one by one, where it goes by rules: BCF knows none. */
  named?: ViewState;
  /** JPEG or PNG; null where there is none. */
  picture: Uint8Array | null;
}

/** A comment with its answers, as it goes into a BCF file. */
export interface BcfTopic extends BcfSaid {
  replies: readonly BcfSaid[];
  documents: readonly BcfDocument[];
}

/** What our own view holds beside what BCF has words for lies in this file of a topic, as JSON. */
export const EXTENSION_FILE = 'yurta.json';

/** GUIDs as BCF writes them. */
export const GUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

/** What BCF takes for the GUID of an IFC element; what has none is named as the program that made it names it. */
export const IFC_GUID = /^[0-9A-Za-z_$]{22}$/;

/** What an answer says that only shows something. */
export const OTHER_VIEW = 'Another view';
