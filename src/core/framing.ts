import { boxCentre, boxDiagonal, type Box3 } from './math/box3';
import type { Vec3 } from './math/mat4';
import { cross, unit } from './math/vec3';
import type { CameraPose } from './viewpoint';

/** A rectangle, counted from the upper left corner. */
interface Area {
  left: number;
  top: number;
  right: number;
  bottom: number;
}

/** Part of a picture: shares of its width and height. */
export type PictureArea = Area;

export const WHOLE_PICTURE: PictureArea = { left: 0, top: 0, right: 1, bottom: 1 };

/**
 * What is left of a picture beside what covers its rim. Each thing is kept clear of on the side where that costs least.
 *
 * @param picture, covers pixels of the page
 */
export function uncovered(picture: Area, covers: Area[]): PictureArea {
  const width = picture.right - picture.left;
  const height = picture.bottom - picture.top;
  const free = { ...WHOLE_PICTURE };
  for (const { left, top, right, bottom } of covers) {
    const costs = [
      (right - picture.left) / width,
      (bottom - picture.top) / height,
      (picture.right - left) / width,
      (picture.bottom - top) / height,
    ] as const;
    const side = costs.indexOf(Math.min(...costs));
    if (side === 0) free.left = Math.max(free.left, costs[0]);
    else if (side === 1) free.top = Math.max(free.top, costs[1]);
    else if (side === 2) free.right = Math.min(free.right, (left - picture.left) / width);
    else free.bottom = Math.min(free.bottom, (top - picture.top) / height);
  }
  return free;
}

/** Metres; of what is smaller, its surroundings show too. */
const LEAST_RADIUS = 0.6;
/** As much of a picture is always used, however much is covered. */
const LEAST_AREA = 0.3;

/**
 * The pose from which a box is seen whole within a part of the picture: the ball around it touches the nearer two of the
 * four planes through the camera and that part's edges.
 *
 * @param box metres, Z up
 * @param away from the box towards the camera, of any length; not straight up
 * @param fov vertical field of view, degrees
 * @param aspect width of the picture by its height
 */
export function framingPose(
  box: Box3,
  away: Vec3,
  fov: number,
  aspect: number,
  area: PictureArea = WHOLE_PICTURE,
): CameraPose {
  const centre = boxCentre(box);
  const radius = Math.max(boxDiagonal(box) / 2, LEAST_RADIUS);
  const forward = unit(away.map((part) => -part) as Vec3);
  const right = unit(cross(forward, [0, 0, 1]));
  const up = cross(right, forward);
  const tangent = Math.tan(((fov / 2) * Math.PI) / 180);
  const across = wedge(area.left, area.right, tangent * aspect);
  const along = wedge(1 - area.bottom, 1 - area.top, tangent);
  const [x, y] = [Math.tan(across.middle), Math.tan(along.middle)];
  const depth = Math.max(
    radius / Math.sin(across.half) / Math.hypot(1, x),
    radius / Math.sin(along.half) / Math.hypot(1, y),
  );
  const offset = (axis: 0 | 1 | 2) => depth * (right[axis] * x + up[axis] * y);
  const target = [0, 1, 2].map((axis) => centre[axis]! - offset(axis as 0 | 1 | 2)) as Vec3;
  return { position: target.map((value, axis) => value - depth * forward[axis]!) as Vec3, target, fov };
}

/** Angles between two edges of a picture, seen from the camera; shares from its lower or left edge. */
function wedge(from: number, to: number, tangent: number): { middle: number; half: number } {
  const lack = Math.max(0, LEAST_AREA - (to - from)) / 2;
  const angle = (share: number) => Math.atan((share * 2 - 1) * tangent);
  const [low, high] = [angle(Math.max(0, from - lack)), angle(Math.min(1, to + lack))];
  return { middle: (low + high) / 2, half: (high - low) / 2 };
}
