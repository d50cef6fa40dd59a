import { ascendingRows } from '@/core/ascending-rows';
import { isDigit, isLetter, readStepValues, skipBlanks, type StepValue } from './step-values';
import { typeCode } from './type-code';

const [HASH, QUOTE, OPEN, STAR, SLASH, SEMICOLON, EQUALS] = [35, 39, 40, 42, 47, 59, 61];
/** An instance name that fits into 32 bits; larger ones no program writes. */
const HIGHEST_ID = 2 ** 32 - 1;

/** A growing row of 32-bit numbers. */
class Numbers {
  private room = new Uint32Array(1 << 14);
  length = 0;

  push(value: number): void {
    if (this.length === this.room.length) {
      const larger = new Uint32Array(this.length * 2);
      larger.set(this.room);
      this.room = larger;
    }
    this.room[this.length++] = value;
  }

  done(): Uint32Array {
    return this.room.slice(0, this.length);
  }
}

interface Columns {
  ids: Numbers;
  starts: Numbers;
  types: Numbers;
}

/**
 * Where the lines of a STEP file's data sections stand, by their numbers and by their types. Twelve bytes a line; their
 * values are read when somebody asks for them.
 */
export class StepLines {
  private constructor(
    private readonly bytes: Buffer,
    /** Ascending. */
    private readonly ids: Uint32Array,
    /** Byte of the opening parenthesis. */
    private readonly starts: Uint32Array,
    private readonly types: Uint32Array,
  ) {}

  /** Looks through a whole file once. Statements that are no lines, such as the header's, are passed over. */
  static of(bytes: Buffer): StepLines {
    const found: Columns = { ids: new Numbers(), starts: new Numbers(), types: new Numbers() };
    // A function a statement: one loop over all would run for long before it is made quick.
    for (let at = 0; at < bytes.length;) at = endOfStatement(bytes, readName(bytes, skipBlanks(bytes, at), found));
    const { ids, starts, types } = found;
    return inOrder(ids.done(), starts.done(), types.done(), (...columns) => new StepLines(bytes, ...columns));
  }

  get count(): number {
    return this.ids.length;
  }

  /** The code of a line's type (`typeCode`); null where the file has no such line. */
  type(id: number): number | null {
    const row = this.row(id);
    return row < 0 ? null : this.types[row]!;
  }

  /**
   * The values of a line, in the order of the file.
   *
   * @throws SyntaxError if there is no such line or it makes no sense
   */
  values(id: number): StepValue[] {
    const row = this.row(id);
    if (row < 0) throw new SyntaxError(`the STEP file has no line #${id}`);
    return readStepValues(this.bytes, this.starts[row]!);
  }

  /** Numbers of all lines whose type has one of these codes, ascending within each type. */
  idsOfTypes(codes: number[]): number[] {
    this.byType ??= this.groupByType();
    return codes.flatMap((code) => Array.from(this.byType!.get(code) ?? [], (row) => this.ids[row]!));
  }

  private byType: Map<number, Uint32Array> | null = null;

  private groupByType(): Map<number, Uint32Array> {
    const counts = new Map<number, number>();
    for (const type of this.types) counts.set(type, (counts.get(type) ?? 0) + 1);
    const groups = new Map([...counts].map(([type, count]) => [type, { rows: new Uint32Array(count), used: 0 }]));
    for (let row = 0; row < this.types.length; row++) {
      const group = groups.get(this.types[row]!)!;
      group.rows[group.used++] = row;
    }
    return new Map([...groups].map(([type, { rows }]) => [type, rows]));
  }

  private row(id: number): number {
    let [low, high] = [0, this.ids.length - 1];
    while (low <= high) {
      const middle = (low + high) >>> 1;
      const found = this.ids[middle]!;
      if (found === id) return middle;
      if (found < id) low = middle + 1;
      else high = middle - 1;
    }
    return -1;
  }
}

/**
 * Notes number, type and place of a line, if the statement at a byte is one.
 *
 * @returns the byte from which its end is to be looked for
 */
function readName(bytes: Buffer, at: number, { ids, starts, types }: Columns): number {
  if (bytes[at] !== HASH) return at;
  let to = at + 1;
  let id = 0;
  while (isDigit(bytes[to])) id = id * 10 + bytes[to++]! - 48;
  to = skipBlanks(bytes, to);
  if (bytes[to] !== EQUALS) return to;
  const name = skipBlanks(bytes, to + 1);
  to = name;
  while (isLetter(bytes[to]) || isDigit(bytes[to])) to++;
  const open = skipBlanks(bytes, to);
  if (to > name && bytes[open] === OPEN && id > 0 && id <= HIGHEST_ID) {
    ids.push(id);
    starts.push(open);
    types.push(typeCode(bytes, name, to));
  }
  return open;
}

/** The byte after the semicolon that ends a statement; semicolons in texts and comments do not. */
function endOfStatement(bytes: Buffer, at: number): number {
  const { length } = bytes;
  for (; at < length; at++) {
    const byte = bytes[at]!;
    if (byte === SEMICOLON) return at + 1;
    if (byte === QUOTE) {
      // A doubled quote ends a text and begins the next at once, which comes to the same.
      at++;
      while (at < length && bytes[at] !== QUOTE) at++;
    } else if (byte === SLASH && bytes[at + 1] === STAR) at = skipBlanks(bytes, at) - 1;
  }
  return length;
}

/** Most files number their lines upwards; of those that do not, the lines are sorted. Of two with one number the first counts. */
function inOrder<T>(
  ids: Uint32Array,
  starts: Uint32Array,
  types: Uint32Array,
  make: (ids: Uint32Array, starts: Uint32Array, types: Uint32Array) => T,
): T {
  let isAscending = true;
  for (let i = 1; i < ids.length && isAscending; i++) isAscending = ids[i]! > ids[i - 1]!;
  if (isAscending) return make(ids, starts, types);
  const order = ascendingRows(ids);
  const kept = order.filter((row, i) => i === 0 || ids[row] !== ids[order[i - 1]!]);
  const pick = (column: Uint32Array) => kept.map((row) => column[row]!);
  return make(pick(ids), pick(starts), pick(types));
}
