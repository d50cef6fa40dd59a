import { boxDiagonal } from '@/core/math/box3';
import type { Check, Examined } from './examined';

/** Elements of fewer triangles are never worth a word. */
const FEW = 3000;
/** Triangles for every metre of size: a door handle of 20 cm with more than 4 000 was modelled for manufacture. */
const A_METRE = 20_000;

/** Elements that are much finer than their size can show. */
export function findTooFine({ pieces, boxes }: Examined): Check {
  let triangles = 0;
  const rows = boxes.flatMap((box, row) => {
    const count = pieces[row]!.reduce((sum, piece) => sum + piece.indices.length / 3, 0);
    if (!box || count < FEW || count / Math.max(boxDiagonal(box), 0.01) < A_METRE) return [];
    triangles += count;
    return [row];
  });
  const all = pieces.flat().reduce((sum, piece) => sum + piece.indices.length / 3, 0);
  const share = all > 0 ? Math.round((100 * triangles) / all) : 0;
  return { rows, detail: `${share} % of the model’s triangles. A simpler shape would look the same.` };
}
