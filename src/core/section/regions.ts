import { Clipper64, ClipType, FillRule, PathType, PolyTree64, type Path64, type PolyPath64 } from 'clipper2-ts';
import { reversedPath, signedArea, windingNumber, type Path } from './path';

/** A part of a cut: what lies within a border and not within its holes. */
export interface Region {
  /** Against the clock. */
  border: Path;
  /** With the clock. */
  holes: Path[];
}

/** Steps a metre in which overlapping loops are united: a thousandth of a millimetre. */
const STEPS = 1e6;

/**
 * What loops enclose, each place once. Where they are oriented, the solid lies on their left: shells that overlap or lie in
 * each other are one, and a shell that is turned inwards is a hollow. A shell that is turned inside out as a whole counts like
 * any other. Where they are not, every second loop is a hole.
 */
export function regionsOf(loops: readonly Path[], isOriented: boolean): Region[] {
  if (loops.length === 0) return [];
  if (loops.length === 1) return [{ border: againstClock(loops[0]!), holes: [] }];
  const paths = isOriented ? turnedOutward(loops) : loops;
  return united(paths, isOriented ? FillRule.Positive : FillRule.EvenOdd);
}

/** Area of regions, holes taken off. Square metres. */
export function regionsArea(regions: readonly Region[]): number {
  return regions.reduce(
    (sum, { border, holes }) => sum + signedArea(border) + holes.reduce((hollow, hole) => hollow + signedArea(hole), 0),
    0,
  );
}

function againstClock(loop: Path): Path {
  return signedArea(loop) < 0 ? reversedPath(loop) : loop;
}

/** A loop that takes away where nothing is belongs to a shell that is inside out: it is turned, with all that lies in it. */
function turnedOutward(loops: readonly Path[]): Path[] {
  if (loops.every((loop) => signedArea(loop) >= 0)) return [...loops];
  const isWithin = (loop: Path, other: Path) => other !== loop && windingNumber(other, loop[0]!, loop[1]!) !== 0;
  const outermost = loops.filter((loop) => !loops.some((other) => isWithin(loop, other)));
  const insideOut = outermost.filter((loop) => signedArea(loop) < 0);
  return loops.map((loop) =>
    insideOut.some((outer) => outer === loop || isWithin(loop, outer)) ? reversedPath(loop) : loop,
  );
}

function united(loops: readonly Path[], rule: FillRule): Region[] {
  const [x0, y0] = [loops[0]![0]!, loops[0]![1]!];
  const clipper = new Clipper64();
  for (const loop of loops) {
    const path: Path64 = [];
    for (let at = 0; at < loop.length; at += 2)
      path.push({ x: Math.round((loop[at]! - x0) * STEPS), y: Math.round((loop[at + 1]! - y0) * STEPS) });
    clipper.addPath(path, PathType.Subject);
  }
  const tree = new PolyTree64();
  clipper.execute(ClipType.Union, rule, tree);
  const path = ({ poly }: PolyPath64) =>
    Float64Array.from((poly ?? []).flatMap(({ x, y }) => [x / STEPS + x0, y / STEPS + y0]));
  const children = (node: PolyPath64) => Array.from({ length: node.count }, (_, i) => node.child(i));
  const regionsWithin = (node: PolyPath64): Region[] =>
    children(node).flatMap((outer) => {
      const holes = children(outer);
      return [{ border: path(outer), holes: holes.map(path) }, ...holes.flatMap(regionsWithin)];
    });
  return regionsWithin(tree);
}
