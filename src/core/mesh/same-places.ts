import { uniqueRows, type UniqueRows } from './unique-rows';

/**
 * Which vertices stand at exactly one place.
 *
 * @param positions three coordinates a vertex
 * @param groups a number a vertex: vertices of one place but of different numbers stay two
 */
export function samePlaces(positions: ArrayLike<number>, groups?: ArrayLike<number>): UniqueRows {
  const count = positions.length / 3;
  const rows = new Float32Array(count * 4);
  for (let vertex = 0; vertex < count; vertex++) {
    for (let axis = 0; axis < 3; axis++) rows[vertex * 4 + axis] = positions[vertex * 3 + axis]! + 0; // no negative zero
    rows[vertex * 4 + 3] = groups?.[vertex] ?? 0;
  }
  return uniqueRows(new Int32Array(rows.buffer), 4);
}
