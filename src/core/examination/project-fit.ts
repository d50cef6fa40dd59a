import { boxDiagonal, type Box3 } from '../math/box3';

/** How a model does not go with the others of its project. */
export type ProjectFit =
  | { kind: 'apart'; /** Metres to the nearest other model. */ metres: number }
  | { kind: 'other-scale'; /** Its size as a multiple of what the others are like. */ factor: number };

/** Nearer than this, in metres, models are one place, however small they are. */
const NEAR = 200;
/** So many times the larger of the two, and nobody sees both. */
const TIMES = 5;
/** Nothing is so many times as large as a building … */
const TOO_LARGE = 100;
/** … nor worth a review if it is so many times smaller: a chair is sixty times smaller than a house. */
const TOO_SMALL = 500;

/**
 * Whether a model stands where the others stand, and is of their scale.
 *
 * @param own its box, in project coordinates
 * @param others the boxes of the others
 * @returns null if it goes with them, or stands alone
 */
export function projectFit(own: Box3, others: Box3[]): ProjectFit | null {
  if (others.length === 0) return null;
  const sizes = others.map(boxDiagonal).sort((a, b) => a - b);
  const usual = sizes[Math.floor(sizes.length / 2)]!;
  const factor = boxDiagonal(own) / Math.max(usual, 1e-9);
  if (factor > TOO_LARGE || factor < 1 / TOO_SMALL) return { kind: 'other-scale', factor };
  const isFar = (other: Box3) =>
    gap(own, other) > Math.max(NEAR, TIMES * Math.max(boxDiagonal(own), boxDiagonal(other)));
  return others.every(isFar) ? { kind: 'apart', metres: Math.min(...others.map((other) => gap(own, other))) } : null;
}

/** Distance between two boxes; 0 where they touch. */
function gap(a: Box3, b: Box3): number {
  return Math.hypot(...[0, 1, 2].map((axis) => Math.max(0, a[axis]! - b[axis + 3]!, b[axis]! - a[axis + 3]!)));
}
