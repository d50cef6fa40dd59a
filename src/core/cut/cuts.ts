import type { ElementSet } from '../elements/element-set';
import { boxCentre, boxSize, type Box3 } from '../math/box3';
import type { Vec3 } from '../math/mat4';
import { cross, dot, subtract, unit } from '../math/vec3';
import { heightOver, planeFrame, type Plane } from '../section/plane';

/** A plane that cuts; what lies before it, on the side of its normal, is away. Project coordinates, metres. */
export interface CutPlane {
  /** Tells it from the others of the same view. */
  id: string;
  /** Of length 1. */
  normal: Vec3;
  /** The plane is the points x with normal · x = offset. */
  offset: number;
  /** Metres to a second plane behind it, beyond which all is away too: a slice. Null for a plane alone. */
  thickness: number | null;
  /** The middle of its frame; the nearest point of the plane is meant. */
  middle: Vec3;
  isOn: boolean;
  isFramed: boolean;
}

/** A box outside of which all is away. Project coordinates, metres. */
export interface CutBox {
  middle: Vec3;
  /** Its edges along its own axes. */
  size: Vec3;
  /** Radians about the vertical, against the clock seen from above. */
  turn: number;
  isOn: boolean;
  isFramed: boolean;
}

/** What is cut away. */
export interface Cuts {
  planes: readonly CutPlane[];
  box: CutBox | null;
  /** Elements that stay whole. */
  whole: ElementSet;
}

export const MOST_PLANES = 6;
/** Half-spaces to which six slices and a box come. */
export const MOST_HALF_SPACES = 2 * MOST_PLANES + 6;
export const NO_CUTS: Cuts = { planes: [], box: null, whole: [] };

/** A face of a cut: a plane, what lies before it is away. */
export interface CutFace {
  /** The plane's id, followed by `back` for the second plane of a slice; for the box `box` and the number of its face. */
  key: string;
  plane: Plane;
}

/** The faces of all cuts that are on: one a plane, two a slice, six the box. */
export function cutFaces({ planes, box }: Cuts): CutFace[] {
  const faces = planes.filter(({ isOn }) => isOn).flatMap(planeFaces);
  return box?.isOn ? [...faces, ...boxFaces(box)] : faces;
}

function planeFaces({ id, normal, offset, thickness }: CutPlane): CutFace[] {
  const front: CutFace = { key: id, plane: { normal, offset } };
  if (thickness === null) return [front];
  return [front, { key: `${id} back`, plane: { normal: negative(normal), offset: thickness - offset } }];
}

/** The faces of a box: its own x and y axes and z, the greater end of each before the lesser. */
export function boxFaces({ middle, size, turn }: CutBox): CutFace[] {
  return boxAxes(turn).flatMap((axis, i): CutFace[] => {
    const centre = dot(axis, middle);
    return [
      { key: `box ${2 * i}`, plane: { normal: axis, offset: centre + size[i]! / 2 } },
      { key: `box ${2 * i + 1}`, plane: { normal: negative(axis), offset: size[i]! / 2 - centre } },
    ];
  });
}

/** The axes of a box that is turned about the vertical. */
export function boxAxes(turn: number): [Vec3, Vec3, Vec3] {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return [
    [c, s, 0],
    [-s, c, 0],
    [0, 0, 1],
  ];
}

/** Whether a place is cut away. */
export function isCutAway(faces: readonly CutFace[], at: Vec3): boolean {
  return faces.some(({ plane }) => heightOver(plane, at) > 0);
}

/** A plane through a point. */
export function planeAt(id: string, point: Vec3, normal: Vec3): CutPlane {
  const direction = unit(normal);
  return {
    id,
    normal: direction,
    offset: dot(direction, point),
    thickness: null,
    middle: point,
    isOn: true,
    isFramed: true,
  };
}

/** A plane moved along its normal, with its frame. */
export function movedPlane(plane: CutPlane, offset: number): CutPlane {
  const by = offset - plane.offset;
  return { ...plane, offset, middle: along(plane.middle, plane.normal, by) };
}

/** What was away stays, what stayed is away. A slice keeps its place and is looked at from behind. */
export function flippedPlane(plane: CutPlane): CutPlane {
  const normal = negative(plane.normal);
  const { thickness } = plane;
  if (thickness === null) return { ...plane, normal, offset: -plane.offset };
  return { ...plane, normal, offset: thickness - plane.offset, middle: along(plane.middle, plane.normal, -thickness) };
}

/** A plane turned about an axis through the middle of its frame. @param angle radians, against the clock seen from the axis' end */
export function turnedPlane(plane: CutPlane, axis: Vec3, angle: number): CutPlane {
  const normal = unit(turned(plane.normal, unit(axis), angle));
  return { ...plane, normal, offset: dot(normal, plane.middle) };
}

/** About which axis a hand turns a plane: the vertical, and a level plane about the picture's x axis. Of length 1. */
export function turnAxis({ normal, offset }: Plane): Vec3 {
  return Math.abs(normal[2]) > 0.9 ? planeFrame({ normal, offset }).x : [0, 0, 1];
}

/** Which way a plane faces: `around` from east against the clock, `up` above the horizon; radians. */
export function facing({ normal }: Pick<CutPlane, 'normal'>): { around: number; up: number } {
  const up = Math.asin(Math.max(-1, Math.min(1, normal[2])));
  return { around: Math.hypot(normal[0], normal[1]) < 1e-9 ? 0 : Math.atan2(normal[1], normal[0]), up };
}

/** A plane that faces a given way, about the middle of its frame. @see facing */
export function facedPlane(plane: CutPlane, { around, up }: { around: number; up: number }): CutPlane {
  const flat = Math.cos(up);
  const normal: Vec3 = [flat * Math.cos(around), flat * Math.sin(around), Math.sin(up)].map((one) =>
    Math.abs(one) < 1e-12 ? 0 : one,
  ) as Vec3;
  return { ...plane, normal, offset: dot(normal, plane.middle) };
}

/** A box about another, with some metres around it. */
export function boxAbout(box: Box3, around: number): CutBox {
  const size = boxSize(box).map((edge) => Math.max(edge, 0.01) + 2 * around) as Vec3;
  return { middle: boxCentre(box), size, turn: 0, isOn: true, isFramed: true };
}

/**
 * A box about an outline, turned along its longest side.
 *
 * @param outline corners at one height, metres @param height of the box above them @param around metres on all sides
 */
export function boxAroundOutline(outline: readonly Vec3[], height: number, around: number): CutBox {
  const sides = outline.map((corner, i) => subtract(outline[(i + 1) % outline.length]!, corner));
  const longest = sides.reduce((best, side) => (Math.hypot(...side) > Math.hypot(...best) ? side : best));
  // Along whichever of its own axes is nearest to the side, so that a box along x is not turned.
  const quarter = Math.PI / 2;
  const angle = Math.atan2(longest[1], longest[0]);
  const turn = angle - Math.round(angle / quarter) * quarter;
  const [u, v] = boxAxes(turn);
  const across = outline.map((corner) => dot(corner, u));
  const along = outline.map((corner) => dot(corner, v));
  const [u0, u1] = [Math.min(...across), Math.max(...across)];
  const [v0, v1] = [Math.min(...along), Math.max(...along)];
  const floor = outline[0]![2];
  const middle = [0, 1, 2].map((k) => (u[k]! * (u0 + u1)) / 2 + (v[k]! * (v0 + v1)) / 2) as Vec3;
  return {
    middle: [middle[0], middle[1], floor + height / 2],
    size: [u1 - u0 + 2 * around, v1 - v0 + 2 * around, height + 2 * around],
    turn,
    isOn: true,
    isFramed: true,
  };
}

/** A box one of whose faces is moved along its normal; the opposite one stays. @param face number as in `boxFaces` */
export function movedFace(box: CutBox, face: number, by: number): CutBox {
  const i = face >> 1;
  const least = 0.05;
  const grown = Math.max(by, least - box.size[i]!);
  const axis = boxAxes(box.turn)[i]!;
  const sign = face % 2 === 0 ? 1 : -1;
  return {
    ...box,
    size: box.size.map((edge, k) => (k === i ? edge + grown : edge)) as Vec3,
    middle: along(box.middle, axis, (sign * grown) / 2),
  };
}

export function along(point: Vec3, direction: Vec3, by: number): Vec3 {
  return point.map((one, axis) => one + direction[axis]! * by) as Vec3;
}

function negative(direction: Vec3): Vec3 {
  return direction.map((one) => (one === 0 ? 0 : -one)) as Vec3;
}

/** Rodrigues' rotation formula. */
function turned(v: Vec3, axis: Vec3, angle: number): Vec3 {
  const [c, s] = [Math.cos(angle), Math.sin(angle)];
  const across = cross(axis, v);
  const lean = dot(axis, v) * (1 - c);
  return v.map((one, i) => one * c + across[i]! * s + axis[i]! * lean) as Vec3;
}
