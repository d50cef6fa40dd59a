/** What triangles take as they are, in bytes: vertices of six 32-bit numbers (place and normal), three 32-bit numbers a triangle. */
export function plainBytes({
  positions,
  indices,
}: {
  positions: ArrayLike<number>;
  indices: ArrayLike<number>;
}): number {
  return (positions.length / 3) * 24 + indices.length * 4;
}
