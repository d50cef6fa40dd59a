import type { Check, Examined } from './examined';

/** Boxes that agree to this, in metres, are in the same place. */
const SAME = 0.001;

/**
 * Elements of one category with the same box and the same number of triangles in the same place: copied twice. The
 * first of each stays.
 */
export function findDuplicates({ model, pieces, boxes }: Examined): Check {
  const first = new Map<string, number>();
  const rows: number[] = [];
  boxes.forEach((box, row) => {
    if (!box) return;
    const triangles = pieces[row]!.reduce((sum, piece) => sum + piece.indices.length, 0);
    const key = [model.elements.category[row], triangles, ...box.map((value) => Math.round(value / SAME))].join();
    if (first.has(key)) rows.push(row);
    else first.set(key, row);
  });
  return { rows, detail: 'In the same place as another of the same kind and shape, which stays.' };
}
