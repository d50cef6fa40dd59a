import type { SeamedLines } from '@/core/mesh/seams';

/** Lines as they are drawn: two corners each, which know where the other end is. */
export interface InkLines<Places extends Uint16Array | Float32Array = Uint16Array | Float32Array> {
  /** Three coordinates a corner. */
  positions: Places;
  /** The line's other end, for every corner. */
  ends: Places;
  /** Element a corner. */
  elements: Float32Array;
  /** Element a corner into which the surface runs on there, so that nothing is drawn while that shows; -1 for none. */
  beside: Float32Array;
}

/**
 * Draws lines out from the corners that they join. A corner has to know both ends: a line of less than a pixel has no
 * depth that one could trust, and would shine as a dot through the walls before it.
 *
 * @param positions three coordinates a vertex
 */
export function inkLines<Places extends Uint16Array | Float32Array>(
  positions: Places,
  { vertices, elements, beside }: SeamedLines,
): InkLines<Places> {
  const Kind = positions.constructor as new (length: number) => Places;
  const out = {
    positions: new Kind(vertices.length * 3),
    ends: new Kind(vertices.length * 3),
    elements: new Float32Array(vertices.length),
    beside: new Float32Array(vertices.length),
  };
  for (let corner = 0; corner < vertices.length; corner++) {
    const [own, other] = [vertices[corner]! * 3, vertices[corner ^ 1]! * 3];
    for (let axis = 0; axis < 3; axis++) {
      out.positions[corner * 3 + axis] = positions[own + axis]!;
      out.ends[corner * 3 + axis] = positions[other + axis]!;
    }
    out.elements[corner] = elements[corner >> 1]!;
    out.beside[corner] = beside[corner >> 1]!;
  }
  return out;
}
