import { ShapeUtils, Vector2 } from 'three';

/**
 * Divides a polygon in space into triangles, also where it bends inwards. Its plane is that of Newell's normal (I. Sutherland,
 * R. Sproull, R. Schumacker, 1974), so it need not be quite flat.
 *
 * @param points three coordinates a corner, in order; at least three corners
 * @returns three numbers of corners a triangle, turning as the polygon does
 */
export function triangulatePolygon(points: ArrayLike<number>): number[] {
  const count = points.length / 3;
  if (count === 3) return [0, 1, 2];
  if (count === 4 && isConvexQuad(points)) return [0, 1, 2, 0, 2, 3];
  let [nx, ny, nz] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const [a, b] = [i * 3, ((i + 1) % count) * 3];
    nx += (points[a + 1]! - points[b + 1]!) * (points[a + 2]! + points[b + 2]!);
    ny += (points[a + 2]! - points[b + 2]!) * (points[a]! + points[b]!);
    nz += (points[a]! - points[b]!) * (points[a + 1]! + points[b + 1]!);
  }
  // Seen along the steepest axis, from the side to which the normal points.
  const [ax, ay, az] = [Math.abs(nx), Math.abs(ny), Math.abs(nz)];
  const [u, v, front] = ax >= ay && ax >= az ? [1, 2, nx] : ay >= az ? [2, 0, ny] : [0, 1, nz];
  const flat = Array.from({ length: count }, (_, i) => new Vector2(points[i * 3 + u]!, points[i * 3 + v]!));
  if (isConvex(flat, front < 0 ? -1 : 1)) return fan(count);
  const triangles = ShapeUtils.triangulateShape(flat, []);
  // Of a polygon that crosses itself not all can be divided.
  if (triangles.length < count - 2) return fan(count);
  return triangles.flatMap(([a, b, c]) => {
    const turn = ShapeUtils.area([flat[a!]!, flat[b!]!, flat[c!]!]);
    return turn * front < 0 ? [a!, c!, b!] : [a!, b!, c!];
  });
}

/** Whether all four corners of a quad turn the same way; most polygons of most files are such. */
function isConvexQuad(p: ArrayLike<number>): boolean {
  const turn = (a: number, b: number, c: number): [number, number, number] => {
    const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
    const [vx, vy, vz] = [p[c]! - p[b]!, p[c + 1]! - p[b + 1]!, p[c + 2]! - p[b + 2]!];
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  };
  const [x, y, z] = turn(0, 3, 6);
  return [turn(3, 6, 9), turn(6, 9, 0), turn(9, 0, 3)].every((other) => other[0] * x + other[1] * y + other[2] * z > 0);
}

function isConvex(points: Vector2[], side: number): boolean {
  const count = points.length;
  return points.every((at, i) => {
    const [before, after] = [points[(i + count - 1) % count]!, points[(i + 1) % count]!];
    return ((at.x - before.x) * (after.y - at.y) - (at.y - before.y) * (after.x - at.x)) * side >= 0;
  });
}

function fan(count: number): number[] {
  return Array.from({ length: count - 2 }, (_, i) => [0, i + 1, i + 2]).flat();
}
