/** A line in a plane's frame, in metres: x, y of one corner after the other. A loop does not repeat its first corner. */
export type Path = Float64Array;

/** Area that a loop encloses, positive where it goes against the clock; by the shoelace formula. Square metres. */
export function signedArea(loop: Path): number {
  const count = loop.length;
  if (count < 6) return 0;
  // Seen from its first corner, so that no digits are lost far from the origin.
  const [x0, y0] = [loop[0]!, loop[1]!];
  let twice = 0;
  for (let at = 2; at + 3 < count; at += 2)
    twice += (loop[at]! - x0) * (loop[at + 3]! - y0) - (loop[at + 2]! - x0) * (loop[at + 1]! - y0);
  return twice / 2;
}

/** The same loop the other way round. */
export function reversedPath(loop: Path): Path {
  const out = new Float64Array(loop.length);
  for (let at = 0; at < loop.length; at += 2) {
    out[loop.length - 2 - at] = loop[at]!;
    out[loop.length - 1 - at] = loop[at + 1]!;
  }
  return out;
}

/** How often a loop goes round a place against the clock, negative with it. */
export function windingNumber(loop: Path, x: number, y: number): number {
  let winding = 0;
  for (let at = 0, last = loop.length - 2; at < loop.length; last = at, at += 2) {
    const [ax, ay, bx, by] = [loop[last]!, loop[last + 1]!, loop[at]!, loop[at + 1]!];
    const side = (bx - ax) * (y - ay) - (x - ax) * (by - ay);
    if (ay <= y && by > y && side > 0) winding++;
    else if (ay > y && by <= y && side < 0) winding--;
  }
  return winding;
}

/** Least and greatest x and y of a path: `[minX, minY, maxX, maxY]`. */
export function pathBounds(path: Path): [number, number, number, number] {
  const bounds: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let at = 0; at < path.length; at += 2) {
    bounds[0] = Math.min(bounds[0], path[at]!);
    bounds[1] = Math.min(bounds[1], path[at + 1]!);
    bounds[2] = Math.max(bounds[2], path[at]!);
    bounds[3] = Math.max(bounds[3], path[at + 1]!);
  }
  return bounds;
}

/** The corners of a path as something else, such as points in space. */
export function pathPoints<T>(path: Path, at: (x: number, y: number) => T): T[] {
  return Array.from({ length: path.length / 2 }, (_, i) => at(path[2 * i]!, path[2 * i + 1]!));
}
