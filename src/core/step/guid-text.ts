const DIGITS = '0123456789ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz_$';

/** 128 bits as a GlobalId: 22 digits of IFC's base 64, the first of them 0 to 3. */
export function guidText(bits: bigint): string {
  let text = '';
  for (let rest = bits, i = 0; i < 22; i++, rest >>= 6n) text = DIGITS[Number(rest & 63n)]! + text;
  return text;
}
