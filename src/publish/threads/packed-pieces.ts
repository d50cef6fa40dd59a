import type { Box3 } from '@/core/math/box3';
import type { TilePiece } from '../geometry/weld';

type Column = Float64Array | Uint32Array | Uint8Array | Int8Array | Float32Array;

/**
 * Pieces for another thread, in columns: as objects, tens of thousands take longer on the way than what the thread does
 * with them. Columns that pieces have in common go once, coordinates in shared memory not at all.
 */
export interface PackedPieces {
  columns: Column[];
  shared: SharedArrayBuffer[];
  /** `WIDTH` numbers a piece. */
  numbers: Int32Array;
  /** Of positions in shared memory: the byte where they begin. */
  starts: Float64Array;
  /** Six numbers a piece. */
  boxes: Float64Array;
}

/** Element, material, positions (of shared memory: which, from −1 downwards), how many of them, the other columns, and whether it is cut. */
const WIDTH = 9;
const NONE = -1;

export function packPieces(pieces: readonly TilePiece[]): PackedPieces {
  const columns = new Numbering<Column>();
  const shared = new Numbering<SharedArrayBuffer>();
  const numbers = new Int32Array(pieces.length * WIDTH);
  const starts = new Float64Array(pieces.length);
  const boxes = new Float64Array(pieces.length * 6);
  pieces.forEach(({ element, material, positions, indices, colors, normals, uvs, box, isCut }, i) => {
    const { buffer, byteOffset, length } = positions;
    const at = i * WIDTH;
    const isShared = buffer instanceof SharedArrayBuffer;
    numbers[at] = element;
    numbers[at + 1] = material;
    numbers[at + 2] = isShared ? -1 - shared.of(buffer) : columns.of(positions);
    numbers[at + 3] = length;
    numbers[at + 4] = columns.of(indices);
    numbers[at + 5] = colors ? columns.of(colors) : NONE;
    numbers[at + 6] = normals ? columns.of(normals) : NONE;
    numbers[at + 7] = uvs ? columns.of(uvs) : NONE;
    numbers[at + 8] = isCut ? 1 : 0;
    starts[i] = byteOffset;
    for (let side = 0; side < 6; side++) boxes[i * 6 + side] = box[side]!;
  });
  return { columns: columns.all, shared: shared.all, numbers, starts, boxes };
}

export function unpackPieces({ columns, shared, numbers, starts, boxes }: PackedPieces): TilePiece[] {
  const column = <T extends Column>(number: number) => columns[number] as T;
  return Array.from(starts, (start, i): TilePiece => {
    const at = i * WIDTH;
    const place = numbers[at + 2]!;
    return {
      element: numbers[at]!,
      material: numbers[at + 1]!,
      positions: place < 0 ? new Float64Array(shared[-1 - place]!, start, numbers[at + 3]) : column(place),
      indices: column(numbers[at + 4]!),
      colors: column<Uint8Array>(numbers[at + 5]!) ?? null,
      normals: column<Int8Array>(numbers[at + 6]!) ?? null,
      uvs: column<Float32Array>(numbers[at + 7]!) ?? null,
      box: boxAt(boxes, i * 6),
      isCut: numbers[at + 8] === 1,
    };
  });
}

function boxAt(boxes: Float64Array, at: number): Box3 {
  return [boxes[at]!, boxes[at + 1]!, boxes[at + 2]!, boxes[at + 3]!, boxes[at + 4]!, boxes[at + 5]!];
}

/** Numbers things in the order in which they first come. */
class Numbering<T extends object> {
  readonly all: T[] = [];
  private readonly numbers = new Map<T, number>();

  of(thing: T): number {
    let number = this.numbers.get(thing);
    if (number === undefined) this.numbers.set(thing, (number = this.all.push(thing) - 1));
    return number;
  }
}
