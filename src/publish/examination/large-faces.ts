import { faceNormals } from '@/core/mesh/face-normals';
import type { Piece } from '../element-geometry';

/** Normals that agree to this share of their length belong to one plane. */
export const STEPS = 500;
/** Faces smaller than this, in square metres, nobody sees flicker. */
const SMALL_FACE = 0.0002;

/** The faces of all pieces without those that are too small, a row each. */
export interface Faces {
  pieces: Piece[];
  /** By piece; pieces of another number look different. */
  looks: number[];
  /** The piece. */
  owner: Uint32Array;
  /** Number of the face in its piece. */
  faces: Uint32Array;
  /** 1 on the front of its plane, -1 on its back. */
  sides: Int8Array;
  /** Unit normals of the fronts of their planes, three numbers a face. */
  fronts: Float32Array;
  /** A number of 32 bits for the front's direction. */
  directions: Int32Array;
  /** Metres from zero, along the front's normal. */
  distances: Float64Array;
}

/** @param looks by piece */
export function largeFaces(pieces: Piece[], looks: number[]): Faces {
  const most = pieces.reduce((sum, { indices }) => sum + indices.length / 3, 0);
  const owner = new Uint32Array(most);
  const faces = new Uint32Array(most);
  const sides = new Int8Array(most);
  const fronts = new Float32Array(most * 3);
  const directions = new Int32Array(most);
  const distances = new Float64Array(most);
  let count = 0;
  pieces.forEach(({ positions, indices }, piece) => {
    const { normals, areas } = faceNormals(positions, indices);
    for (let face = 0; face < areas.length; face++) {
      if (areas[face]! / 2 < SMALL_FACE) continue;
      const at = indices[face * 3]! * 3;
      const side = sideOf(normals, face * 3);
      const x = side * normals[face * 3]!;
      const y = side * normals[face * 3 + 1]!;
      const z = side * normals[face * 3 + 2]!;
      owner[count] = piece;
      faces[count] = face;
      sides[count] = side;
      fronts[count * 3] = x;
      fronts[count * 3 + 1] = y;
      fronts[count * 3 + 2] = z;
      directions[count] = mixed(mixed(mixed(0, x), y), z);
      distances[count++] = x * positions[at]! + y * positions[at + 1]! + z * positions[at + 2]!;
    }
  });
  return {
    pieces,
    looks,
    owner: owner.subarray(0, count),
    faces: faces.subarray(0, count),
    sides: sides.subarray(0, count),
    fronts: fronts.subarray(0, count * 3),
    directions: directions.subarray(0, count),
    distances: distances.subarray(0, count),
  };
}

/** Which side of its plane a face with this normal is on: the front looks along the first axis that it has a part in. */
function sideOf(normals: Float64Array, at: number): 1 | -1 {
  for (let axis = 0; axis < 3; axis++) {
    const part = normals[at + axis]!;
    if (Math.abs(part) > 0.5 / STEPS) return part > 0 ? 1 : -1;
  }
  return 1;
}

/** A number of 32 bits, mixed with one more part of a unit vector. */
function mixed(hash: number, part: number): number {
  const next = Math.imul(hash ^ Math.floor(part * STEPS + 0.5), 0x85ebca6b);
  return next ^ (next >>> 13);
}
