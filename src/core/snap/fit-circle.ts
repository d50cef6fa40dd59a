import type { Vec3 } from '../math/mat4';
import { add, cross, dot, scale, subtract, unit } from '../math/vec3';

export interface Circle {
  centre: Vec3;
  /** Of length 1. */
  normal: Vec3;
  /** Metres. */
  radius: number;
}

/**
 * The circle nearest to points of one plane, by I. Kåsa's least squares ("A circle fitting procedure and its error analysis",
 * 1976), with how far from it the farthest of them lies.
 *
 * @param normal of their plane, of length 1
 * @returns null for points on a line
 */
export function fitCircle(points: readonly Vec3[], normal: Vec3): (Circle & { deviation: number }) | null {
  const origin = scale(
    points.reduce((sum, point) => add(sum, point), [0, 0, 0] as Vec3),
    1 / points.length,
  );
  const x = unit(cross(normal, Math.abs(normal[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]));
  const y = cross(normal, x);
  let [suu, suv, svv, suz, svz] = [0, 0, 0, 0, 0];
  const flat = points.map((point) => {
    const from = subtract(point, origin);
    return [dot(from, x), dot(from, y), dot(from, normal)] as const;
  });
  for (const [u, v] of flat) {
    const square = u * u + v * v;
    suu += u * u;
    suv += u * v;
    svv += v * v;
    suz += u * square;
    svz += v * square;
  }
  const determinant = suu * svv - suv * suv;
  if (!(determinant > 1e-9 * (suu + svv) ** 2)) return null;
  const cu = (suz * svv - svz * suv) / (2 * determinant);
  const cv = (svz * suu - suz * suv) / (2 * determinant);
  const radius = Math.sqrt(cu * cu + cv * cv + (suu + svv) / points.length);
  const deviation = Math.max(...flat.map(([u, v, w]) => Math.hypot(Math.hypot(u - cu, v - cv) - radius, w)));
  return { centre: add(origin, add(scale(x, cu), scale(y, cv))), normal, radius, deviation };
}
