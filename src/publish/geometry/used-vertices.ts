import type { Piece } from './element-geometry';
import { pickVertices } from './smooth';

/** Numbers of the vertices that triangles use, ascending. */
export function usedVertices({ indices, positions }: Pick<Piece, 'indices' | 'positions'>): Uint32Array {
  const isUsed = new Uint8Array(positions.length / 3);
  let count = 0;
  for (const vertex of indices) {
    if (isUsed[vertex] === 0) count++;
    isUsed[vertex] = 1;
  }
  const used = new Uint32Array(count);
  for (let vertex = 0, at = 0; at < count; vertex++) if (isUsed[vertex] === 1) used[at++] = vertex;
  return used;
}

/** The piece without vertices that no triangle uses. */
export function withoutUnused<Some extends Piece>(piece: Some): Some {
  const used = usedVertices(piece);
  if (used.length === piece.positions.length / 3) return piece;
  const rowOf = new Uint32Array(piece.positions.length / 3);
  used.forEach((vertex, i) => (rowOf[vertex] = i));
  return { ...piece, ...pickVertices(piece, used), indices: piece.indices.map((vertex) => rowOf[vertex]!) };
}
