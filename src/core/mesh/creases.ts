import { faceNormals } from './face-normals';
import { samePlaces } from './same-places';

/** Faces that meet at less than this angle count as one smooth surface; a pipe of 16 facets turns 22.5° at each. */
export const CREASE_ANGLE = (26 * Math.PI) / 180;
/** The same within a surface that is meant to be curved, whose facets turn by up to 35°. */
export const CURVED_CREASE_ANGLE = (36 * Math.PI) / 180;

export interface CreaseOptions {
  /** Radians. */
  angle?: number;
  /** Whether the rims of open surfaces are among them; without, rims are taken to go on elsewhere. */
  rims?: boolean;
  /** A number a vertex: vertices of one place but of different numbers, such as those of two elements, stay two. */
  groups?: ArrayLike<number>;
}

/** Edges worth a line, and the faces that meet in them. */
export interface Creases {
  /** Two vertices a line. */
  lines: Uint32Array;
  /** Six numbers a line: the unit normals of the two faces; the second is zero at a rim. */
  normals: Float32Array;
}

/**
 * Finds the edges worth an ink line: borders of a surface and edges where two faces turn by more than the crease angle.
 * Edges inside one plane, however it is triangulated, give none.
 *
 * @param positions three coordinates a vertex, any unit; vertices of exactly one place count as one
 * @param indices three vertices a triangle
 */
export function creaseEdges(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  { angle = CREASE_ANGLE, rims = true, groups }: CreaseOptions = {},
): Creases {
  const vertexCount = positions.length / 3;
  const { of, first } = samePlaces(positions, groups);
  const limit = Math.cos(angle);
  const { normals } = faceNormals(positions, indices);
  /** Number of every edge, in the order in which they are met. */
  const edges = new Map<number, number>();
  /** By edge: the faces that meet in it, -1 for none; a third one changes nothing any more. */
  const faces = new Int32Array(indices.length * 2).fill(-1);
  for (let face = 0; face * 3 + 2 < indices.length; face++) {
    if (normals[face * 3] === 0 && normals[face * 3 + 1] === 0 && normals[face * 3 + 2] === 0) continue;
    for (let side = 0; side < 3; side++) {
      const a = first[of[indices[face * 3 + side]!]!]!;
      const b = first[of[indices[face * 3 + ((side + 1) % 3)]!]!]!;
      const key = a < b ? a * vertexCount + b : b * vertexCount + a;
      const edge = edges.get(key);
      if (edge === undefined) {
        faces[edges.size * 2] = face;
        edges.set(key, edges.size);
      } else if (faces[edge * 2 + 1]! < 0) faces[edge * 2 + 1] = face;
    }
  }
  const isDrawn = (edge: number): boolean => {
    const [face, other] = [faces[edge * 2]! * 3, faces[edge * 2 + 1]! * 3];
    if (other < 0) return rims;
    return (
      normals[face]! * normals[other]! +
        normals[face + 1]! * normals[other + 1]! +
        normals[face + 2]! * normals[other + 2]! <
      limit
    );
  };
  const drawn = [...edges].filter(([, edge]) => isDrawn(edge));
  const lines = new Uint32Array(drawn.length * 2);
  const sides = new Float32Array(drawn.length * 6);
  drawn.forEach(([key, edge], i) => {
    lines[i * 2] = Math.floor(key / vertexCount);
    lines[i * 2 + 1] = key % vertexCount;
    const [face, other] = [faces[edge * 2]! * 3, faces[edge * 2 + 1]! * 3];
    sides.set(normals.subarray(face, face + 3), i * 6);
    if (other >= 0) sides.set(normals.subarray(other, other + 3), i * 6 + 3);
  });
  return { lines, normals: sides };
}
