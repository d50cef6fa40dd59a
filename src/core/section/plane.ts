import { cross, dot, subtract, unit } from '../math/vec3';
import type { Vec3 } from '../math/mat4';

/** The points x with normal · x = offset. The normal has length 1; metres. */
export interface Plane {
  normal: Vec3;
  offset: number;
}

/** A plane by a normal of any length. @returns null where the normal has no length, or a number is not finite */
export function planeOf(normal: Vec3, offset: number): Plane | null {
  const length = Math.hypot(...normal);
  if (!(length > 1e-12) || !Number.isFinite(length) || !Number.isFinite(offset)) return null;
  return { normal: normal.map((one) => one / length) as Vec3, offset: offset / length };
}

/** The plane through a point, square to a direction of any length but zero. */
export function planeThrough(point: Vec3, normal: Vec3): Plane {
  const direction = unit(normal);
  return { normal: direction, offset: dot(direction, point) };
}

/** How far a point lies before a plane, on the side of its normal; negative behind it. Metres. */
export function heightOver({ normal, offset }: Plane, point: Vec3): number {
  return dot(normal, point) - offset;
}

/**
 * Coordinates in a plane, seen from the side of its normal: x to the right, y up in the picture; in a level plane seen from
 * above x is east and y north, seen from below x is west, so that y is north again.
 */
export interface PlaneFrame {
  origin: Vec3;
  x: Vec3;
  y: Vec3;
}

/** Planes as level as this are seen with north up. */
const LEVEL = 1 - 1e-9;

/** The coordinates of a plane. Their origin is the point of the plane that is nearest to the origin of space. */
export function planeFrame({ normal, offset }: Plane): PlaneFrame {
  const origin = normal.map((one) => one * offset) as Vec3;
  const up: Vec3 = Math.abs(normal[2]) > LEVEL ? [0, 1, 0] : [0, 0, 1];
  const lean = dot(up, normal);
  const y = unit(subtract(up, normal.map((one) => one * lean) as Vec3));
  return { origin, x: cross(y, normal), y };
}

/** A place in a plane's frame as a point in space. */
export function inSpace({ origin, x, y }: PlaneFrame, at: readonly [number, number]): Vec3 {
  return [0, 1, 2].map((axis) => origin[axis]! + x[axis]! * at[0] + y[axis]! * at[1]) as Vec3;
}

/** A point in space as a place in a plane's frame, seen square on. */
export function inPlane({ origin, x, y }: PlaneFrame, point: Vec3): [number, number] {
  const from = subtract(point, origin);
  return [dot(from, x), dot(from, y)];
}
