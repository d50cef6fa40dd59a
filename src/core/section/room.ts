import {
  Clipper64,
  ClipType,
  EndType,
  FillRule,
  inflatePaths,
  JoinType,
  PathType,
  PolyTree64,
  simplifyPaths,
  type Path64,
  type PolyPath64,
} from 'clipper2-ts';
import { signedArea, windingNumber, type Path } from './path';
import { isInRegion, type Region } from './regions';

/** Steps a metre in which is reckoned: a hundredth of a millimetre. */
const STEPS = 1e5;
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
  const toSteps = (path: Path): Path64 =>
    Array.from({ length: path.length / 2 }, (_, i) => ({
      x: Math.round((path[2 * i]! - x) * STEPS),
      y: Math.round((path[2 * i + 1]! - y) * STEPS),
    }));
  const solid = regions.flatMap(({ border, holes }) => [border, ...holes].map(toSteps));
  const grown = inflatePaths(united(solid), GAP * STEPS, JoinType.Miter, EndType.Polygon);
  const clipper = new Clipper64();
  for (const path of grown) clipper.addPath(path, PathType.Subject);
  const tree = new PolyTree64();
  clipper.execute(ClipType.Union, FillRule.NonZero, tree);
  const hole = smallestHole(tree);
  if (!hole) return null;
  // Back to where the walls are: what grew inwards is given back.
  const [back] = inflatePaths([[...hole].reverse()], GAP * STEPS, JoinType.Miter, EndType.Polygon);
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

function united(paths: readonly Path64[]): Path64[] {
  const clipper = new Clipper64();
  for (const path of paths) clipper.addPath(path, PathType.Subject);
  const out: Path64[] = [];
  clipper.execute(ClipType.Union, FillRule.NonZero, out);
  return out;
}

/** The smallest hole around the origin. */
function smallestHole(tree: PolyPath64): Path64 | null {
  let best: Path64 | null = null;
  let least = Infinity;
  const visit = (node: PolyPath64, isHole: boolean) => {
    const { poly } = node;
    if (isHole && poly) {
      const path = Float64Array.from(poly.flatMap(({ x, y }) => [x, y]));
      const area = Math.abs(signedArea(path));
      if (area < least && windingNumber(path, 0, 0) !== 0) [best, least] = [poly, area];
    }
    for (let i = 0; i < node.count; i++) visit(node.child(i), !isHole);
  };
  for (let i = 0; i < tree.count; i++) visit(tree.child(i), false);
  return best;
}
