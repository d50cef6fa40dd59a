import type { Vec3 } from '../math/mat4';
import type { ElementRef } from '../elements/element-ref';
import type { ViewState } from '../view/view-state';

/** The place that a comment speaks of, in project coordinates. */
export interface CommentAnchor {
  element: ElementRef | null;
  point: Vec3;
}

export type CommentStatus = 'open' | 'closed';

export interface Comment {
  id: string;
  /** Counted within the project; null for a reply. */
  number: number | null;
  meetingId: string | null;
  replyTo: string | null;
  text: string;
  author: string;
  guest: boolean;
  anchor: CommentAnchor | null;
  elementName: string;
  view: ViewState | null;
  hasPicture: boolean;
  status: CommentStatus;
  createdAt: string;
}
