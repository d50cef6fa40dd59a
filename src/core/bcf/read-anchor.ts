import { asRecord } from '../elements/read-element-set';
import type { CommentAnchor } from '../project/comment';
import { isVector } from '../view/read-numbers';

/** The place of a comment as a file holds it; null where it is none. Never throws. */
export function readAnchor(stored: unknown): CommentAnchor | null {
  const { element, point } = asRecord(stored);
  if (!isVector(point)) return null;
  const { model, guid } = asRecord(element);
  const isNamed = typeof model === 'string' && typeof guid === 'string' && guid.length <= 100 && model.length <= 64;
  return { point, element: isNamed ? { model, guid } : null };
}
