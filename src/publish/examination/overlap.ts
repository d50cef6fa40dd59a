/** A polygon while it is clipped, x and y in turns: three corners, and one more for each side. */
const POLYGONS = [new Float64Array(12), new Float64Array(12)] as const;

/**
 * What two triangles have in common: one is clipped by the sides of the other (Sutherland and Hodgman, 1974).
 *
 * @param corners x and y of three corners a triangle
 * @param a where the one begins
 * @param b where the other begins
 * @returns its area, and a point inside it; area 0 where they have nothing in common
 */
export function overlap(corners: Float64Array, a: number, b: number): { area: number; x: number; y: number } {
  let count = 3;
  let [polygon, next] = POLYGONS as readonly [Float64Array, Float64Array];
  for (let i = 0; i < 6; i++) polygon[i] = corners[b + i]!;
  const isClockwise = left(corners, a, a + 2, corners[a + 4]!, corners[a + 5]!) < 0;
  for (let side = 0; side < 3 && count >= 3; side++) {
    const from = a + side * 2;
    const to = a + ((side + 1) % 3) * 2;
    count = isClockwise ? clip(polygon, count, corners, to, from, next) : clip(polygon, count, corners, from, to, next);
    [polygon, next] = [next, polygon];
  }
  if (count < 3) return { area: 0, x: 0, y: 0 };
  let [area, x, y] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const after = ((i + 1) % count) * 2;
    area += (polygon[i * 2]! * polygon[after + 1]! - polygon[after]! * polygon[i * 2 + 1]!) / 2;
    x += polygon[i * 2]!;
    y += polygon[i * 2 + 1]!;
  }
  // The corners' mean lies inside, because what triangles share is convex.
  return { area: Math.abs(area), x: x / count, y: y / count };
}

/** Keeps of a polygon what lies left of the way between two corners. @returns how many corners are left */
function clip(
  polygon: Float64Array,
  count: number,
  corners: Float64Array,
  from: number,
  to: number,
  kept: Float64Array,
): number {
  let length = 0;
  let lastX = polygon[count * 2 - 2]!;
  let lastY = polygon[count * 2 - 1]!;
  let lastSide = left(corners, from, to, lastX, lastY);
  for (let i = 0; i < count; i++) {
    const x = polygon[i * 2]!;
    const y = polygon[i * 2 + 1]!;
    const side = left(corners, from, to, x, y);
    if (side >= 0 !== lastSide >= 0) {
      const share = lastSide / (lastSide - side);
      kept[length * 2] = lastX + (x - lastX) * share;
      kept[length++ * 2 + 1] = lastY + (y - lastY) * share;
    }
    if (side >= 0) {
      kept[length * 2] = x;
      kept[length++ * 2 + 1] = y;
    }
    lastX = x;
    lastY = y;
    lastSide = side;
  }
  return length;
}

/** Whether a point lies in the triangle that begins at `at`, its sides included. */
export function isInside(x: number, y: number, corners: Float64Array, at: number): boolean {
  const ab = left(corners, at, at + 2, x, y);
  const bc = left(corners, at + 2, at + 4, x, y);
  const ca = left(corners, at + 4, at, x, y);
  return (ab >= 0 && bc >= 0 && ca >= 0) || (ab <= 0 && bc <= 0 && ca <= 0);
}

/** Left, bottom, right and top of the triangle that begins at `at`. */
export function boxOf(corners: Float64Array, at: number): [number, number, number, number] {
  const [ax, ay, bx, by] = [corners[at]!, corners[at + 1]!, corners[at + 2]!, corners[at + 3]!];
  const [cx, cy] = [corners[at + 4]!, corners[at + 5]!];
  return [Math.min(ax, bx, cx), Math.min(ay, by, cy), Math.max(ax, bx, cx), Math.max(ay, by, cy)];
}

/** Area of the triangle that begins at `at`. */
export function areaOf(corners: Float64Array, at: number): number {
  return Math.abs(left(corners, at, at + 2, corners[at + 4]!, corners[at + 5]!)) / 2;
}

/** Twice a signed area: positive where the point lies left of the way between two corners. */
function left(corners: Float64Array, from: number, to: number, x: number, y: number): number {
  const ax = corners[from]!;
  const ay = corners[from + 1]!;
  return (corners[to]! - ax) * (y - ay) - (x - ax) * (corners[to + 1]! - ay);
}
