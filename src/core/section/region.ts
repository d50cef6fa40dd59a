import { signedArea, windingNumber, type Path } from './path';

/** A part of a cut: what lies within a border and not within its holes. */
export interface Region {
  /** Against the clock. */
  border: Path;
  /** With the clock. */
  holes: Path[];
}

/** Whether a place lies in a region and in none of its holes. */
export function isInRegion({ border, holes }: Region, x: number, y: number): boolean {
  return windingNumber(border, x, y) !== 0 && !holes.some((hole) => windingNumber(hole, x, y) !== 0);
}

/** Area of regions, holes taken off. Square metres. */
export function regionsArea(regions: readonly Region[]): number {
  return regions.reduce(
    (sum, { border, holes }) => sum + signedArea(border) + holes.reduce((hollow, hole) => hollow + signedArea(hole), 0),
    0,
  );
}
