/** Revision code in the manner of ISO 19650: P01, P02, … for the `n`-th published revision, counted from 1. */
export function revisionCode(n: number): string {
  if (!Number.isInteger(n) || n < 1) throw new RangeError(`revision numbers start at 1, not ${n}`);
  return `P${String(n).padStart(2, '0')}`;
}
