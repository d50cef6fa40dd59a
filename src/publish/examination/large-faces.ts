import { faceNormals, roomForNormals } from '@/core/mesh/face-normals';
import type { Piece } from '../geometry/element-geometry';

/** Normals that agree to this share of their length belong to one plane. */
export const STEPS = 500;
/** A part of a normal below this is none. */
const LEAST_PART = 0.5 / STEPS;
/** Faces smaller than this, in square metres, nobody sees flicker. */
const SMALL_FACE = 0.0002;

/** The faces of all pieces without those that are too small, a row each. */
export interface Faces {
  pieces: Piece[];
  /** The piece, its element, and a number for what it looks like. */
  owner: Uint32Array;
  element: Uint32Array;
  look: Uint32Array;
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

/** @param looks by piece: those of another number look different */
export function largeFaces(pieces: Piece[], looks: number[]): Faces {
  const most = pieces.reduce((sum, { indices }) => sum + indices.length / 3, 0);
  const owner = new Uint32Array(most);
  const element = new Uint32Array(most);
  const look = new Uint32Array(most);
  const faces = new Uint32Array(most);
  const sides = new Int8Array(most);
  const fronts = new Float32Array(most * 3);
  const directions = new Int32Array(most);
  const distances = new Float64Array(most);
  let count = 0;
  // One for all pieces: of their own, they would take longer to be made than to be filled.
  let room = roomForNormals(256);
  for (let piece = 0; piece < pieces.length; piece++) {
    const { positions, indices } = pieces[piece]!;
    const triangles = Math.floor(indices.length / 3);
    if (triangles > room.areas.length) room = roomForNormals(triangles * 2);
    const { normals, areas } = faceNormals(positions, indices, room);
    for (let face = 0; face < triangles; face++) {
      // Coordinates that make no sense have no area that is large enough either.
      if (!(areas[face]! / 2 >= SMALL_FACE)) continue;
      const at = indices[face * 3]! * 3;
      const side = sideOf(normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!);
      const x = side * normals[face * 3]!;
      const y = side * normals[face * 3 + 1]!;
      const z = side * normals[face * 3 + 2]!;
      owner[count] = piece;
      element[count] = pieces[piece]!.element;
      look[count] = looks[piece]!;
      faces[count] = face;
      sides[count] = side;
      fronts[count * 3] = x;
      fronts[count * 3 + 1] = y;
      fronts[count * 3 + 2] = z;
      directions[count] = mixed(mixed(mixed(0, x), y), z);
      distances[count++] = x * positions[at]! + y * positions[at + 1]! + z * positions[at + 2]!;
    }
  }
  return {
    pieces,
    owner: owner.subarray(0, count),
    element: element.subarray(0, count),
    look: look.subarray(0, count),
    faces: faces.subarray(0, count),
    sides: sides.subarray(0, count),
    fronts: fronts.subarray(0, count * 3),
    directions: directions.subarray(0, count),
    distances: distances.subarray(0, count),
  };
}

/** Which side of its plane a face with this normal is on: the front looks along the first axis that it has a part in. */
function sideOf(x: number, y: number, z: number): 1 | -1 {
  const part = Math.abs(x) > LEAST_PART ? x : Math.abs(y) > LEAST_PART ? y : z;
  return part < -LEAST_PART ? -1 : 1;
}

/** A number of 32 bits, mixed with one more part of a unit vector. */
function mixed(hash: number, part: number): number {
  const next = Math.imul(hash ^ Math.floor(part * STEPS + 0.5), 0x85ebca6b);
  return next ^ (next >>> 13);
}
