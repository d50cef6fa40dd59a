import {
  Clipper64,
  ClipType,
  EndType,
  FillRule,
  inflatePaths,
  JoinType,
  PathType,
  simplifyPaths,
  union,
  type Path64,
} from 'clipper2-ts';
import { reversedPath, signedArea, windingNumber, type Path } from './path';
import { isInRegion, type Region } from './region';
import { regionsFrom, STEPS, toClipper } from './regions';

/** Gaps up to twice this, such as between a door and its frame, do not open a room; metres. */
const GAP = 0.03;
/** Straighter corners than this are left out of an outline; metres. */
const SIMPLE = 0.0005;
/** So many corners an outline has at most. */
export const MOST_CORNERS = 400;

/** What is free around a place of a section, up to what is cut. */
export interface Room {
  /** Against the clock. */
  border: Path;
  /** Of the border; what stands within it is not taken off. Square metres. */
  area: number;
}

/**
 * The room in which a place of a plan lies: all that can be reached from it without passing what is cut, narrow gaps taken as
 * closed.
 *
 * @param regions what is cut, in the frame of the plan
 * @returns null where the place lies within something, or in the open
 */
export function roomAround(regions: readonly Region[], [x, y]: readonly [number, number]): Room | null {
  if (regions.some((region) => isInRegion(region, x, y))) return null;
  const solid = regions.flatMap(({ border, holes }) => [border, ...holes].map((path) => toClipper(path, [x, y])));
  const clipper = new Clipper64();
  for (const path of grown(union(solid, FillRule.NonZero))) clipper.addPath(path, PathType.Subject);
  const around = regionsFrom(clipper, ClipType.Union, FillRule.NonZero, [x, y])
    .flatMap(({ holes }) => holes)
    .filter((hole) => windingNumber(hole, x, y) !== 0);
  // Of rooms in rooms the innermost.
  const [hole] = around.sort((a, b) => Math.abs(signedArea(a)) - Math.abs(signedArea(b)));
  if (!hole) return null;
  // Back to where the walls are: what grew inwards is given back.
  const [back] = grown([toClipper(reversedPath(hole), [x, y])]);
  if (!back) return null;
  const outline = simplified(back);
  const border = Float64Array.from(outline.flatMap((place) => [place.x / STEPS + x, place.y / STEPS + y]));
  return { border, area: Math.abs(signedArea(border)) };
}

/** Without corners that hardly are any; a coarser outline where there are too many. */
function simplified(path: Path64): Path64 {
  for (let within = SIMPLE; ; within *= 2) {
    const [simple] = simplifyPaths([path], within * STEPS);
    if (!simple || simple.length < 3) return path;
    if (simple.length <= MOST_CORNERS) return simple;
  }
}

/** Shapes that reach half of the widest gap farther. */
function grown(paths: Path64[]): Path64[] {
  return inflatePaths(paths, GAP * STEPS, JoinType.Miter, EndType.Polygon);
}
