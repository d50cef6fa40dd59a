/** A whole number in groups of three parted by a narrow space, as in drawings. */
export function plainNumber(value: number): string {
  return String(value).replace(/\B(?=(\d{3})+$)/g, '\u202f');
}
