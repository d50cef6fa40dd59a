import { boxDiagonal } from '@/core/math/box3';
import { plainNumber } from '@/core/plain-number';
import type { Check, Examined } from './examined';
import { reduce } from './reduce';

/** Elements of fewer triangles are never worth a word. */
const FEW = 3000;
/** Triangles for every metre of size: a door handle of 20 cm with more than 4 000 was modelled for manufacture. */
const A_METRE = 20_000;
/** Triangles of different shapes on which it is tried how much simpler they can be: a fraction of a second. */
const TRIED = 60_000;

/** Elements that are much finer than their size can show, and what would be left of them. */
export async function findTooFine({ pieces, boxes }: Examined): Promise<Check> {
  let triangles = 0;
  const rows = boxes.flatMap((box, row) => {
    const count = pieces[row]!.reduce((sum, piece) => sum + piece.indices.length / 3, 0);
    if (!box || count < FEW || count / Math.max(boxDiagonal(box), 0.01) < A_METRE) return [];
    triangles += count;
    return [row];
  });
  if (rows.length === 0) return { rows, detail: '' };
  const all = pieces.flat().reduce((sum, piece) => sum + piece.indices.length / 3, 0);
  const detail = [
    `${Math.round((100 * triangles) / all)} % of the model’s triangles.`,
    await effect(rows.flatMap((row) => pieces[row]!.filter(({ indices }) => indices.length > 0))),
  ];
  return { rows, detail: detail.join(' ') };
}

/** What comes of making pieces simpler, in a sentence: measured, on some of the shapes where there are many. */
async function effect(pieces: Parameters<typeof reduce>[0]): Promise<string> {
  const { shapes, tried, before, after, error } = await reduce(pieces, TRIED);
  if (tried === 0) return 'Simpler shapes would look the same.';
  const basis = tried < shapes ? `Tried on ${tried} of ${shapes} shapes: ` : '';
  if (after > before * 0.95) return `${basis}simpler shapes would not look the same.`;
  const off = `${Math.max(0.1, Math.ceil(error * 1e4) / 10)} mm`;
  return `${basis}${plainNumber(after)} triangles instead of ${plainNumber(before)} would look the same, off by ${off} at most.`;
}
