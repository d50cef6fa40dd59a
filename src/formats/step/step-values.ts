import { decodeStepText } from './step-text';
import { typeCode } from './type-code';

/** Kinds of values, numbered as the reader library numbers them. */
const TEXT = 1;
const TYPED = 2;
const ENUMERATION = 3;
const REAL = 4;
export const REFERENCE = 5;
const INTEGER = 10;
const BINARY = 11;

/** A value of a line as it stands in the file, in the shape that the reader library's schema classes are made from. */
export type StepValue = null | StepValue[] | StepToken;

export interface StepToken {
  type: number;
  /** Null for IFC's `.U.`, which is neither true nor false. */
  value: string | number | boolean | null | StepValue[];
  /** Of a typed value such as `IFCLABEL('x')`: the code of the type. */
  typecode?: number;
}

const [TAB, SPACE, QUOTATION, HASH, DOLLAR, QUOTE, OPEN, CLOSE, STAR] = [9, 32, 34, 35, 36, 39, 40, 41, 42];
const [PLUS, COMMA, MINUS, POINT, SLASH, ZERO, NINE] = [43, 44, 45, 46, 47, 48, 57];
/** Deeper than any schema nests. */
const DEEPEST = 64;

/**
 * Reads the parameters of one line. Those that a subtype derives, written `*`, are left out, as the reader library does:
 * its schema classes do not count them.
 *
 * @param at the byte of its opening parenthesis
 * @throws SyntaxError where they make no sense
 */
export function readStepValues(bytes: Buffer, at: number): StepValue[] {
  return new StepValueReader(bytes, at).list(0);
}

class StepValueReader {
  constructor(
    private readonly bytes: Buffer,
    private at: number,
  ) {}

  list(depth: number): StepValue[] {
    if (depth > DEEPEST || this.bytes[this.at] !== OPEN) throw this.nonsense();
    this.at++;
    const values: StepValue[] = [];
    this.skipBlanks();
    if (this.bytes[this.at] === CLOSE) {
      this.at++;
      return values;
    }
    for (;;) {
      if (this.bytes[this.at] === STAR) this.at++;
      else values.push(this.value(depth));
      this.skipBlanks();
      const next = this.bytes[this.at++];
      if (next === CLOSE) return values;
      if (next !== COMMA) throw this.nonsense();
      this.skipBlanks();
    }
  }

  private value(depth: number): StepValue {
    const byte = this.bytes[this.at]!;
    if (byte === DOLLAR) {
      this.at++;
      return null;
    }
    if (byte === HASH) {
      this.at++;
      return { type: REFERENCE, value: this.digits() };
    }
    if (byte === QUOTE) return { type: TEXT, value: this.text() };
    if (byte === OPEN) return this.list(depth + 1);
    if (byte === POINT && !isDigit(this.bytes[this.at + 1])) return this.enumeration();
    if (byte === QUOTATION) return { type: BINARY, value: this.quoted(QUOTATION) };
    if (isDigit(byte) || byte === MINUS || byte === PLUS || byte === POINT) return this.number();
    if (isLetter(byte)) return this.typed(depth);
    throw this.nonsense();
  }

  private text(): string {
    const from = this.at + 1;
    let to = from;
    const { bytes } = this;
    for (;;) {
      while (bytes[to] !== QUOTE) if (to++ >= bytes.length) throw this.nonsense();
      if (bytes[to + 1] !== QUOTE) break;
      to += 2;
    }
    this.at = to + 1;
    return decodeStepText(bytes, from, to);
  }

  private quoted(end: number): string {
    const from = this.at + 1;
    const to = this.bytes.indexOf(end, from);
    if (to < 0) throw this.nonsense();
    this.at = to + 1;
    return this.bytes.toString('latin1', from, to);
  }

  private enumeration(): StepToken {
    const name = this.quoted(POINT);
    if (!/^\w+$/.test(name)) throw this.nonsense();
    const value = name === 'T' ? true : name === 'F' ? false : name === 'U' ? null : name;
    return { type: ENUMERATION, value };
  }

  private typed(depth: number): StepToken {
    const from = this.at;
    while (isLetter(this.bytes[this.at]) || isDigit(this.bytes[this.at])) this.at++;
    const typecode = typeCode(this.bytes, from, this.at);
    this.skipBlanks();
    const [inner = null, ...more] = this.list(depth + 1);
    if (more.length > 0) throw this.nonsense();
    return { type: TYPED, typecode, value: Array.isArray(inner) || inner === null ? inner : inner.value };
  }

  private number(): StepToken {
    const { bytes } = this;
    const from = this.at;
    let at = from;
    const isNegative = bytes[at] === MINUS;
    if (isNegative || bytes[at] === PLUS) at++;
    let [mantissa, digits, decimals] = [0, 0, 0];
    let isReal = false;
    for (; ; at++) {
      const byte = bytes[at]!;
      if (byte >= ZERO && byte <= NINE) {
        mantissa = mantissa * 10 + byte - ZERO;
        digits++;
        if (isReal) decimals++;
      } else if (byte === POINT && !isReal) isReal = true;
      else break;
    }
    if (digits === 0) throw this.nonsense();
    const isScaled = (bytes[at]! | 32) === 101; // e
    if (isScaled) {
      at++;
      if (bytes[at] === MINUS || bytes[at] === PLUS) at++;
      while (isDigit(bytes[at])) at++;
    }
    this.at = at;
    // Up to 15 digits, both numbers of the quotient are exact, so it is rounded as it should be.
    const value =
      isScaled || digits > 15
        ? Number(bytes.toString('latin1', from, at))
        : (isNegative ? -mantissa : mantissa) / POWERS[decimals]!;
    return { type: isReal || isScaled ? REAL : INTEGER, value };
  }

  private digits(): number {
    let value = 0;
    const from = this.at;
    while (isDigit(this.bytes[this.at])) value = value * 10 + this.bytes[this.at++]! - ZERO;
    if (this.at === from) throw this.nonsense();
    return value;
  }

  private skipBlanks(): void {
    this.at = skipBlanks(this.bytes, this.at);
  }

  private nonsense(): SyntaxError {
    return new SyntaxError(`byte ${this.at} of the STEP file makes no sense there`);
  }
}

const POWERS = Array.from({ length: 16 }, (_, i) => 10 ** i);

/** The next byte that is neither blank nor in a comment. */
export function skipBlanks(bytes: Buffer, at: number): number {
  for (;;) {
    const byte = bytes[at]!;
    if (byte === SPACE || (byte >= TAB && byte <= 13)) at++;
    else if (byte === SLASH && bytes[at + 1] === STAR) {
      const end = bytes.indexOf('*/', at + 2, 'latin1');
      at = end < 0 ? bytes.length : end + 2;
    } else return at;
  }
}

export function isDigit(byte: number | undefined): boolean {
  return byte !== undefined && byte >= ZERO && byte <= NINE;
}

/** Letters of type names. */
export function isLetter(byte: number | undefined): boolean {
  return byte !== undefined && (((byte | 32) >= 97 && (byte | 32) <= 122) || byte === 95);
}
