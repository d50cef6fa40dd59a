import type { ViewState } from '../view/view-state';
import type { CommentAnchor } from './comment';

/** What somebody has noted for themselves, or was passed by a colleague. */
export interface Note {
  id: string;
  text: string;
  anchor: CommentAnchor | null;
  elementName: string;
  view: ViewState | null;
  hasPicture: boolean;
  isOwn: boolean;
  owner: string;
  /** Colleagues who see it; of one's own notes. */
  passedTo: { id: string; name: string }[];
  /** The revision that it is about, such as “Architecture P02”; null where it names no element. */
  revision: string | null;
  /** Whether something newer stands than what it was written about. */
  isOlder: boolean;
  /** The comment that it has become. */
  commentId: string | null;
  createdAt: string;
}
