/**
 * Radians between the two sides of a triangle at each of its corners; zero where a side has no length.
 *
 * @param positions three coordinates a vertex
 * @param indices three vertices a triangle
 */
export function cornerAngles(positions: ArrayLike<number>, indices: ArrayLike<number>): Float32Array {
  const p = positions;
  const angles = new Float32Array(indices.length);
  for (let corner = 0; corner < indices.length; corner++) {
    const first = corner - (corner % 3);
    const at = indices[corner]! * 3;
    const to = indices[first + ((corner + 1) % 3)]! * 3;
    const from = indices[first + ((corner + 2) % 3)]! * 3;
    const ux = p[to]! - p[at]!;
    const uy = p[to + 1]! - p[at + 1]!;
    const uz = p[to + 2]! - p[at + 2]!;
    const vx = p[from]! - p[at]!;
    const vy = p[from + 1]! - p[at + 1]!;
    const vz = p[from + 2]! - p[at + 2]!;
    const lengths = Math.sqrt((ux * ux + uy * uy + uz * uz) * (vx * vx + vy * vy + vz * vz));
    const cosine = lengths === 0 ? 1 : (ux * vx + uy * vy + uz * vz) / lengths;
    angles[corner] = Math.acos(Math.min(1, Math.max(-1, cosine)));
  }
  return angles;
}
