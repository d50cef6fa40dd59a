export type Point2 = [number, number];
export type Triangle2 = [Point2, Point2, Point2];

/**
 * What two triangles have in common: one is clipped by the sides of the other (Sutherland and Hodgman, 1974).
 *
 * @returns its area, and a point inside it; area 0 where they have nothing in common
 */
export function overlap(a: Triangle2, b: Triangle2): { area: number; middle: Point2 } {
  const [p, q, r] = isLeft(a[0], a[1], a[2]) >= 0 ? a : [a[0], a[2], a[1]];
  let polygon: Point2[] = [...b];
  for (const [from, to] of [
    [p!, q!],
    [q!, r!],
    [r!, p!],
  ] as const) {
    const next: Point2[] = [];
    polygon.forEach((point, i) => {
      const before = polygon[(i + polygon.length - 1) % polygon.length]!;
      const [side, sideBefore] = [isLeft(from, to, point), isLeft(from, to, before)];
      if (side >= 0 !== sideBefore >= 0) {
        const share = sideBefore / (sideBefore - side);
        next.push([before[0] + (point[0] - before[0]) * share, before[1] + (point[1] - before[1]) * share]);
      }
      if (side >= 0) next.push(point);
    });
    polygon = next;
    if (polygon.length < 3) return { area: 0, middle: [0, 0] };
  }
  const area = Math.abs(
    polygon.reduce((sum, [x, y], i) => {
      const [nextX, nextY] = polygon[(i + 1) % polygon.length]!;
      return sum + (x * nextY - nextX * y) / 2;
    }, 0),
  );
  // The corners' mean lies inside, because what triangles share is convex.
  const middle = [0, 1].map((k) => polygon.reduce((sum, point) => sum + point[k]!, 0) / polygon.length) as Point2;
  return { area, middle };
}

/** Whether a point lies in a triangle, its sides included. */
export function isInside(point: Point2, [a, b, c]: Triangle2): boolean {
  const sides = [isLeft(a, b, point), isLeft(b, c, point), isLeft(c, a, point)];
  return sides.every((side) => side >= 0) || sides.every((side) => side <= 0);
}

/** Twice the signed area of a triangle: positive where `c` lies left of the way from `a` to `b`. */
function isLeft(a: Point2, b: Point2, c: Point2): number {
  return (b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]);
}
