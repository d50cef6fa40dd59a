/**
 * Coordinates relative to a point near them, in single precision.
 *
 * @param positions three coordinates a vertex
 * @param origin its three coordinates come first; a box's lower corner will do
 */
export function nearZero(positions: ArrayLike<number>, origin: ArrayLike<number>): Float32Array {
  const [x, y, z] = [origin[0]!, origin[1]!, origin[2]!];
  const near = new Float32Array(positions.length);
  for (let i = 0; i + 2 < near.length; i += 3) {
    near[i] = positions[i]! - x;
    near[i + 1] = positions[i + 1]! - y;
    near[i + 2] = positions[i + 2]! - z;
  }
  return near;
}
