import { createHash } from 'node:crypto';

const DIGITS = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$';

/** IFC GlobalId (128 bits as 22 digits of base 64) derived from a key, so that every run gives the same identity. */
export function ifcGuid(key: string): string {
  let bits = BigInt(`0x${createHash('sha256').update(key).digest('hex').slice(0, 32)}`);
  let text = '';
  for (let i = 0; i < 22; i++) {
    text = DIGITS[Number(bits & 63n)]! + text;
    bits >>= 6n;
  }
  return text;
}
