import type { PlyHeader, PlyNumber } from './ply-header';

/** The values of a PLY file's rows, one after the other. */
export interface PlyValues {
  /** @throws RangeError at the end of the file */
  next(kind: PlyNumber): number;
  /** Leaves what else stands in a row of text. */
  endRow(): void;
}

export function plyValues(bytes: Buffer, { format, length }: PlyHeader): PlyValues {
  return format === 'ascii'
    ? new TextValues(bytes, length)
    : new BinaryValues(bytes, length, format === 'binary_little_endian');
}

class BinaryValues implements PlyValues {
  private readonly view: DataView;

  constructor(
    bytes: Buffer,
    private at: number,
    private readonly isLittle: boolean,
  ) {
    this.view = new DataView(bytes.buffer, bytes.byteOffset, bytes.length);
  }

  next(kind: PlyNumber): number {
    const { view, at, isLittle } = this;
    switch (kind) {
      case 'int8':
        this.at += 1;
        return view.getInt8(at);
      case 'uint8':
        this.at += 1;
        return view.getUint8(at);
      case 'int16':
        this.at += 2;
        return view.getInt16(at, isLittle);
      case 'uint16':
        this.at += 2;
        return view.getUint16(at, isLittle);
      case 'int32':
        this.at += 4;
        return view.getInt32(at, isLittle);
      case 'uint32':
        this.at += 4;
        return view.getUint32(at, isLittle);
      case 'float32':
        this.at += 4;
        return view.getFloat32(at, isLittle);
      case 'float64':
        this.at += 8;
        return view.getFloat64(at, isLittle);
    }
  }

  endRow(): void {
    // A row of bytes is as long as its values.
  }
}

const LINE_FEED = 0x0a;
const RETURN = 0x0d;
const BLANK = 0x20;

/** Read from the bytes, because the text of a large file is longer than a string may be. */
class TextValues implements PlyValues {
  constructor(
    private readonly bytes: Buffer,
    private at: number,
  ) {}

  next(): number {
    const { bytes } = this;
    let from = this.at;
    while (from < bytes.length && bytes[from]! <= BLANK) from++;
    if (from === bytes.length) throw new RangeError('the text ends');
    let to = from + 1;
    while (to < bytes.length && bytes[to]! > BLANK) to++;
    this.at = to;
    return Number(bytes.toString('latin1', from, to));
  }

  endRow(): void {
    const { bytes } = this;
    while (this.at < bytes.length && bytes[this.at] !== LINE_FEED && bytes[this.at] !== RETURN) this.at++;
  }
}
