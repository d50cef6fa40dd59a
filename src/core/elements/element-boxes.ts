import { emptyBox, type Box3 } from '../math/box3';

const STEPS = 65535;

/**
 * Quantises element boxes (metres) over the model's extent to 6 uint16 each, rounding outwards so that a decoded box
 * always contains the exact one. An empty box is written as minimum 65535 and maximum 0.
 */
export function quantiseBoxes(boxes: Float64Array, extent: Box3): Uint16Array {
  const out = new Uint16Array(boxes.length);
  for (let i = 0; i < boxes.length; i += 6) {
    const empty = !(boxes[i]! <= boxes[i + 3]!);
    for (let axis = 0; axis < 3; axis++) {
      const size = extent[axis + 3]! - extent[axis]!;
      const scale = size > 0 ? STEPS / size : 0;
      out[i + axis] = empty ? STEPS : clampStep(Math.floor((boxes[i + axis]! - extent[axis]!) * scale));
      out[i + 3 + axis] = empty ? 0 : clampStep(Math.ceil((boxes[i + 3 + axis]! - extent[axis]!) * scale));
    }
  }
  return out;
}

/**
 * Quantised boxes as six columns of small numbers, which pack to half of what the boxes do: the lower corners as steps
 * from the row before, then the sizes, each along X, Y, Z.
 */
export function boxColumns(quantised: Uint16Array): number[][] {
  const columns: number[][] = Array.from({ length: 6 }, () => []);
  for (let i = 0; i < quantised.length; i += 6)
    for (let axis = 0; axis < 3; axis++) {
      const low = quantised[i + axis]!;
      columns[axis]!.push(low - (i > 0 ? quantised[i - 6 + axis]! : 0));
      columns[axis + 3]!.push(quantised[i + 3 + axis]! - low);
    }
  return columns;
}

/** The quantised boxes that columns were made of. */
export function boxesOfColumns(columns: readonly (readonly number[])[]): Uint16Array {
  const count = columns[0]?.length ?? 0;
  const out = new Uint16Array(count * 6);
  for (let axis = 0; axis < 3; axis++) {
    let low = 0;
    for (let row = 0; row < count; row++) {
      low += columns[axis]![row]!;
      out[row * 6 + axis] = low;
      out[row * 6 + 3 + axis] = low + columns[axis + 3]![row]!;
    }
  }
  return out;
}

/** Box of one element in metres, in the frame of `extent`; an empty box for an element without geometry. */
export function decodeBox(quantised: Uint16Array, element: number, extent: Box3): Box3 {
  const at = element * 6;
  const box = emptyBox();
  for (let axis = 0; axis < 3; axis++) {
    const low = quantised[at + axis];
    const high = quantised[at + 3 + axis];
    if (low === undefined || high === undefined || (low === STEPS && high === 0)) return emptyBox();
    const step = (extent[axis + 3]! - extent[axis]!) / STEPS;
    box[axis] = extent[axis]! + low * step;
    box[axis + 3] = extent[axis]! + high * step;
  }
  return box;
}

function clampStep(value: number): number {
  return Math.min(STEPS, Math.max(0, value));
}
