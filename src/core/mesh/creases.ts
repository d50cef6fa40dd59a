import { faceNormals } from './face-normals';
import { uniqueRows, type UniqueRows } from './unique-rows';

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

/**
 * Finds the edges worth an ink line: borders of a surface and edges where two faces turn by more than the crease angle.
 * Edges inside one plane, however it is triangulated, give none.
 *
 * @param positions three coordinates a vertex, any unit; vertices of exactly one place count as one
 * @param indices three vertices a triangle
 * @returns two vertices a line
 */
export function creaseEdges(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  { angle = CREASE_ANGLE, rims = true, groups }: CreaseOptions = {},
): Uint32Array {
  const vertexCount = positions.length / 3;
  const { of, first } = samePlaces(positions, groups);
  const limit = Math.cos(angle);
  const { normals } = faceNormals(positions, indices);
  /** Edge -> first face, or -1 once it is known to be drawn, or -2 once it is known to be flat. */
  const edges = new Map<number, number>();
  const DRAWN = -1;
  const FLAT = -2;
  for (let face = 0; face * 3 + 2 < indices.length; face++) {
    if (normals[face * 3] === 0 && normals[face * 3 + 1] === 0 && normals[face * 3 + 2] === 0) continue;
    for (let side = 0; side < 3; side++) {
      const a = first[of[indices[face * 3 + side]!]!]!;
      const b = first[of[indices[face * 3 + ((side + 1) % 3)]!]!]!;
      const key = a < b ? a * vertexCount + b : b * vertexCount + a;
      const other = edges.get(key);
      if (other === undefined) edges.set(key, face);
      else if (other >= 0) {
        const turn =
          normals[face * 3]! * normals[other * 3]! +
          normals[face * 3 + 1]! * normals[other * 3 + 1]! +
          normals[face * 3 + 2]! * normals[other * 3 + 2]!;
        edges.set(key, turn < limit ? DRAWN : FLAT);
      }
    }
  }
  const lines: number[] = [];
  for (const [key, state] of edges)
    if (state === DRAWN || (rims && state >= 0)) lines.push(Math.floor(key / vertexCount), key % vertexCount);
  return Uint32Array.from(lines);
}

function samePlaces(positions: ArrayLike<number>, groups?: ArrayLike<number>): UniqueRows {
  const count = positions.length / 3;
  const rows = new Float32Array(count * 4);
  for (let vertex = 0; vertex < count; vertex++) {
    for (let axis = 0; axis < 3; axis++) rows[vertex * 4 + axis] = positions[vertex * 3 + axis]! + 0; // no negative zero
    rows[vertex * 4 + 3] = groups?.[vertex] ?? 0;
  }
  return uniqueRows(new Int32Array(rows.buffer), 4);
}
