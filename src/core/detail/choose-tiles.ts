import type { Box3 } from '../math/box3';
import type { Vec3 } from '../math/mat4';
import { cross, subtract, unit } from '../math/vec3';
import type { DetailTile } from './detail-tile';

/** A perspective view in the frame of the tiles. */
export interface DetailView {
  eye: Vec3;
  target: Vec3;
  /** Vertical field of view in degrees. */
  fov: number;
  /** Width by height. */
  aspect: number;
  /** Pixels from top to bottom. */
  height: number;
}

/**
 * The tiles that a view draws: of every branch that is in sight, the coarsest that is off by no more than the allowed
 * pixels. The rule of 3D Tiles for replacing tiles: a tile gives way to its children where its error, seen from its
 * distance, is larger than that.
 */
export function chooseTiles(root: DetailTile, view: DetailView, pixelError: number): DetailTile[] {
  const sides = sidesOfSight(view);
  const pixelsAtOneMetre = view.height / (2 * Math.tan((view.fov * Math.PI) / 360));
  const chosen: DetailTile[] = [];
  const visit = (tile: DetailTile): void => {
    if (sides.some((normal) => isBeyond(tile.box, view.eye, normal))) return;
    const distance = distanceToBox(view.eye, tile.box);
    const pixels = distance === 0 ? Infinity : (tile.error * pixelsAtOneMetre) / distance;
    if (tile.children.length > 0 && tile.error > 0 && pixels > pixelError) tile.children.forEach(visit);
    else if (tile.cost) chosen.push(tile);
    else tile.children.forEach(visit);
  };
  visit(root);
  return chosen;
}

/** Normals of the planes through the eye that bound what is in sight, pointing inwards: four sides, and ahead. */
function sidesOfSight({ eye, target, fov, aspect }: DetailView): Vec3[] {
  const forward = unit(subtract(target, eye));
  const sideways = cross(forward, [0, 0, 1]);
  const right = Math.hypot(...sideways) < 1e-6 ? ([1, 0, 0] as Vec3) : unit(sideways);
  const up = cross(right, forward);
  const half = Math.tan((fov * Math.PI) / 360);
  const inwards = (axis: Vec3, reach: number): Vec3 => [0, 1, 2].map((i) => forward[i]! * reach + axis[i]!) as Vec3;
  const mirrored = (axis: Vec3): Vec3 => [-axis[0], -axis[1], -axis[2]];
  return [
    forward,
    inwards(right, half * aspect),
    inwards(mirrored(right), half * aspect),
    inwards(up, half),
    inwards(mirrored(up), half),
  ];
}

/** Whether all of a box lies on the outer side of a plane through the eye. */
function isBeyond(box: Box3, eye: Vec3, normal: Vec3): boolean {
  let inside = 0;
  for (let axis = 0; axis < 3; axis++)
    inside += (box[normal[axis]! > 0 ? axis + 3 : axis]! - eye[axis]!) * normal[axis]!;
  return inside < 0;
}

function distanceToBox(point: Vec3, box: Box3): number {
  let squares = 0;
  for (let axis = 0; axis < 3; axis++) {
    const away = Math.max(box[axis]! - point[axis]!, 0, point[axis]! - box[axis + 3]!);
    squares += away * away;
  }
  return Math.sqrt(squares);
}
