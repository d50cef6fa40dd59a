/** Coordinates beyond this lose their tenths of a millimetre in single precision; they are counted from near by. */
const FAR = 1024;

export interface NearPositions {
  /** Three numbers a vertex, counted from `from`. */
  positions: Float32Array;
  /** Whole numbers; zero along an axis where nothing is far. */
  from: [number, number, number];
}

/**
 * Positions in single precision that keep what a file says of places far from its origin, as with national grids.
 *
 * @param positions three numbers a vertex, as in the file
 */
export function nearPositions(positions: Float64Array | Float32Array): NearPositions {
  const from: NearPositions['from'] = [0, 0, 0];
  for (let axis = 0; axis < 3; axis++) {
    const at = positions[axis] ?? 0;
    if (Math.abs(at) > FAR) from[axis] = Math.round(at);
  }
  const near = new Float32Array(positions.length);
  for (let i = 0; i < near.length; i += 3) {
    near[i] = positions[i]! - from[0];
    near[i + 1] = positions[i + 1]! - from[1];
    near[i + 2] = positions[i + 2]! - from[2];
  }
  return { positions: near, from };
}

/** Column-major 4x4 that puts such positions back. */
export function translation([x, y, z]: NearPositions['from']): number[] {
  return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];
}
