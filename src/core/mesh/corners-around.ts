/**
 * The triangle corners at every point, one run after the other: those of point `p` stand in `around` from `start[p]` to
 * before `start[p + 1]`, ascending. Corner `c` belongs to triangle `c / 3`, rounded down.
 *
 * @param points the point of every corner, three a triangle
 * @param count how many points there are
 */
export function cornersAround(points: Uint32Array, count: number): { start: Uint32Array; around: Uint32Array } {
  const start = new Uint32Array(count + 1);
  for (const point of points) start[point + 1]!++;
  for (let i = 0; i < count; i++) start[i + 1]! += start[i]!;
  const next = start.slice();
  const around = new Uint32Array(points.length);
  for (let corner = 0; corner < points.length; corner++) around[next[points[corner]!]!++] = corner;
  return { start, around };
}
