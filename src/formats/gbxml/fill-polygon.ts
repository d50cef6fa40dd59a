import earcut from 'earcut';
import type { Geometry } from '../building-model';

export type Point = [x: number, y: number, z: number];

/**
 * Triangles of a flat polygon in space with holes.
 *
 * @param rings the outline, then its holes; three corners or more each, in one plane
 * @returns null if it has no area or a corner is no number
 */
export function fillPolygon(rings: Point[][]): Geometry | null {
  const corners = rings.flat();
  if (!corners.flat().every(Number.isFinite)) return null;
  const [x, y, z] = normal(rings[0] ?? []);
  if (Math.hypot(x, y, z) < 1e-9) return null;
  // Seen along the axis that the polygon faces most, it loses least of its area.
  const [ax, ay, az] = [Math.abs(x), Math.abs(y), Math.abs(z)];
  const [u, v] = ax >= ay && ax >= az ? [1, 2] : ay >= az ? [2, 0] : [0, 1];
  const flat = corners.flatMap((corner) => [corner[u!]!, corner[v!]!]);
  const starts = rings.slice(1).map((_, i) => rings.slice(0, i + 1).reduce((sum, ring) => sum + ring.length, 0));
  const indices = Uint32Array.from(earcut(flat, starts));
  return indices.length < 3 ? null : { positions: Float32Array.from(corners.flat()), indices };
}

/** Twice the area times the unit normal of a closed ring: Newell's method. */
function normal(ring: Point[]): Point {
  const sum: Point = [0, 0, 0];
  ring.forEach((a, i) => {
    const b = ring[(i + 1) % ring.length]!;
    sum[0] += (a[1] - b[1]) * (a[2] + b[2]);
    sum[1] += (a[2] - b[2]) * (a[0] + b[0]);
    sum[2] += (a[0] - b[0]) * (a[1] + b[1]);
  });
  return sum;
}
