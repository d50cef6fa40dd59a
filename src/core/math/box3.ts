import type { Vec3 } from './mat4';

/** Axis-aligned box as [minX, minY, minZ, maxX, maxY, maxZ]; empty while a minimum is above its maximum. */
export type Box3 = [number, number, number, number, number, number];

export function emptyBox(): Box3 {
  return [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity];
}

export function isEmptyBox(box: Box3): boolean {
  return !(box[0] <= box[3] && box[1] <= box[4] && box[2] <= box[5]);
}

/** Grows `box` in place so that it holds the point. */
export function expandByPoint(box: Box3, x: number, y: number, z: number): void {
  if (x < box[0]) box[0] = x;
  if (y < box[1]) box[1] = y;
  if (z < box[2]) box[2] = z;
  if (x > box[3]) box[3] = x;
  if (y > box[4]) box[4] = y;
  if (z > box[5]) box[5] = z;
}

/** Grows `box` in place so that it holds `other`; an empty `other` changes nothing. */
export function expandByBox(box: Box3, other: Box3): void {
  if (isEmptyBox(other)) return;
  expandByPoint(box, other[0], other[1], other[2]);
  expandByPoint(box, other[3], other[4], other[5]);
}

export function boxCentre(box: Box3): Vec3 {
  return [(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2];
}

export function boxSize(box: Box3): Vec3 {
  return [box[3] - box[0], box[4] - box[1], box[5] - box[2]];
}

/** Length of the longest side; negative for an empty box. */
export function longestSide(box: Box3): number {
  return Math.max(box[3] - box[0], box[4] - box[1], box[5] - box[2]);
}

/** Length of the side that is neither the longest nor the shortest. */
export function middleSide(box: Box3): number {
  const x = box[3] - box[0];
  const y = box[4] - box[1];
  const z = box[5] - box[2];
  return Math.max(Math.min(x, y), Math.min(Math.max(x, y), z));
}

/** One of the eight corners: bits 0, 1 and 2 of its number say whether it is the far one along x, y and z. */
export function boxCorner(box: Box3, corner: number): Vec3 {
  return [box[corner & 1 ? 3 : 0], box[corner & 2 ? 4 : 1], box[corner & 4 ? 5 : 2]];
}

/** Length of the diagonal; 0 for an empty box. */
export function boxDiagonal(box: Box3): number {
  if (isEmptyBox(box)) return 0;
  const x = box[3] - box[0];
  const y = box[4] - box[1];
  const z = box[5] - box[2];
  return Math.sqrt(x * x + y * y + z * z);
}

export function translateBox(box: Box3, by: Vec3): Box3 {
  return [box[0] + by[0], box[1] + by[1], box[2] + by[2], box[3] + by[0], box[4] + by[1], box[5] + by[2]];
}

/** Whether two boxes have a point in common; an empty box has none. */
export function boxesTouch(a: Box3, b: Box3): boolean {
  return [0, 1, 2].every((axis) => a[axis]! <= b[axis + 3]! && b[axis]! <= a[axis + 3]!);
}

/** A box that is larger by so many metres on every side. */
export function growBox(box: Box3, by: number): Box3 {
  return box.map((value, i) => (i < 3 ? value - by : value + by)) as Box3;
}
