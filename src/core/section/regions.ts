import { Clipper64, ClipType, FillRule, PathType, PolyTree64, type Path64, type PolyPath64 } from 'clipper2-ts';
import { reversedPath, signedArea, windingNumber, type Path } from './path';
import type { Region } from './region';

/** Steps a metre in which overlapping loops are united: a thousandth of a millimetre. */
export const STEPS = 1e6;

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
  const origin: [number, number] = [loops[0]![0]!, loops[0]![1]!];
  const clipper = new Clipper64();
  for (const loop of loops) clipper.addPath(toClipper(loop, origin), PathType.Subject);
  return regionsFrom(clipper, ClipType.Union, rule, origin);
}

/** A path in whole steps from an origin, as the clipper takes it. */
export function toClipper(path: Path, [x0, y0]: readonly [number, number]): Path64 {
  const out: Path64 = [];
  for (let at = 0; at < path.length; at += 2)
    out.push({ x: Math.round((path[at]! - x0) * STEPS), y: Math.round((path[at + 1]! - y0) * STEPS) });
  return out;
}

/** What a clipper makes of the paths that it was given. @param origin as in `toClipper` */
export function regionsFrom(
  clipper: Clipper64,
  type: ClipType,
  rule: FillRule,
  [x0, y0]: readonly [number, number],
): Region[] {
  const tree = new PolyTree64();
  clipper.execute(type, rule, tree);
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
