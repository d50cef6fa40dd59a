import { boxCentre, boxDiagonal } from '@/core/math/box3';
import type { Check, Examined } from './examined';

/** Nearer than this to the middle, nothing is a stray, however small the building. */
const NEAR = 150;
/** So many times as far as nine tenths of the elements reach. */
const TIMES = 6;

/**
 * Elements far from the rest: they make the whole tiny on the screen. The middle is the median of the elements'
 * centres and the reach the ninth decile of their distances, so that a few strays cannot move either.
 */
export function findFarAway({ boxes }: Examined): Check {
  const placed = boxes.flatMap((box, row) => (box ? [{ row, box, centre: boxCentre(box) }] : []));
  if (placed.length < 3) return { rows: [], detail: '' };
  const middle = [0, 1, 2].map((axis) =>
    quantile(
      placed.map(({ centre }) => centre[axis]!),
      0.5,
    ),
  );
  const distance = ({ centre, box }: (typeof placed)[number]) =>
    Math.hypot(...centre.map((value, axis) => value - middle[axis]!)) - boxDiagonal(box) / 2;
  const reach = Math.max(quantile(placed.map(distance), 0.9), 0);
  const limit = Math.max(NEAR, reach * TIMES);
  const strays = placed.filter((one) => distance(one) > limit);
  const farthest = Math.max(0, ...strays.map(distance));
  return {
    rows: strays.map(({ row }) => row),
    detail: `Up to ${metres(farthest)} from the building, which itself reaches ${metres(reach)}.`,
  };
}

function quantile(values: number[], share: number): number {
  const sorted = Float64Array.from(values).sort();
  return sorted[Math.floor(share * (sorted.length - 1))] ?? 0;
}

function metres(value: number): string {
  return value >= 2000 ? `${Math.round(value / 1000)} km` : `${Math.round(value)} m`;
}
