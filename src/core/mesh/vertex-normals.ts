import { cornerAngles } from './corner-angles';
import { faceNormals } from './face-normals';

/**
 * Normals of a curved surface from its shape: at every vertex the mean of the faces around it, weighted with their areas
 * and with their angles there, so that it does not matter how they are divided into triangles. Publishing leaves out the
 * normals that this gives back, so both sides must compute it alike.
 *
 * @param positions three coordinates a vertex, any unit, the same along all axes
 * @param indices three vertices a triangle; faces belong together where they share a vertex
 * @returns unit normals in steps of 1/127, three a vertex; zeros where no face has an area
 */
export function vertexNormals(positions: ArrayLike<number>, indices: ArrayLike<number>): Int8Array<ArrayBuffer> {
  const { normals, areas } = faceNormals(positions, indices);
  const angles = cornerAngles(positions, indices);
  const sums = new Float64Array(positions.length);
  for (let corner = 0; corner < indices.length; corner++) {
    const face = Math.floor(corner / 3);
    const weight = areas[face]! * angles[corner]!;
    const at = indices[corner]! * 3;
    for (let axis = 0; axis < 3; axis++) sums[at + axis]! += normals[face * 3 + axis]! * weight;
  }
  const out = new Int8Array(positions.length);
  for (let at = 0; at < out.length; at += 3) {
    const length = Math.hypot(sums[at]!, sums[at + 1]!, sums[at + 2]!);
    if (length === 0) continue;
    for (let axis = 0; axis < 3; axis++) out[at + axis] = Math.round((sums[at + axis]! / length) * 127);
  }
  return out;
}
