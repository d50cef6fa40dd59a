import { boxCentre, boxCorner, boxDiagonal, type Box3 } from './math/box3';
import type { Vec3 } from './math/mat4';
import { cross, dot, unit } from './math/vec3';
import type { CameraPose } from './view/camera';

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
/** Share of a picture's part that stays free on each of its sides. */
const MARGIN = 0.04;

/**
 * The pose from which a box fills a part of the picture: its corners touch two opposite margins of that part and stand
 * about in the middle between the other two.
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
  const forward = unit(away.map((part) => -part) as Vec3);
  const right = unit(cross(forward, [0, 0, 1]));
  const up = cross(right, forward);
  const tangent = Math.tan(((fov / 2) * Math.PI) / 180);
  const seen = large(box);
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].map((corner) => boxCorner(seen, corner));
  const ahead = corners.map((corner) => dot(corner, forward));
  const axes = [
    { axis: right, ...slopes(area.left, area.right, tangent * aspect) },
    { axis: up, ...slopes(1 - area.bottom, 1 - area.top, tangent) },
  ].map(({ axis, low, high }) => {
    // A camera at (place, depth) sees a corner at (side, ahead) between both edges where
    // low <= (side - place) / (ahead - depth) <= high: straight lines in the plane, of which the outermost count.
    const side = corners.map((corner) => dot(corner, axis));
    const first = Math.min(...side.map((at, i) => at - low * ahead[i]!));
    const last = Math.max(...side.map((at, i) => at - high * ahead[i]!));
    return { axis, low, high, first, last, depth: (first - last) / (high - low) };
  });
  const depth = Math.min(...axes.map((one) => one.depth));
  const position: Vec3 = [0, 1, 2].map((i) => depth * forward[i]!) as Vec3;
  for (const { axis, low, high, first, last } of axes) {
    const place = (first + low * depth + last + high * depth) / 2;
    for (let i = 0; i < 3; i++) position[i]! += place * axis[i]!;
  }
  const distance = dot(boxCentre(box), forward) - depth;
  return { position, target: position.map((part, i) => part + distance * forward[i]!) as Vec3, fov };
}

/** The box, or a larger one around its middle where it is tiny. */
function large(box: Box3): Box3 {
  if (boxDiagonal(box) >= 2 * LEAST_RADIUS) return box;
  const half = LEAST_RADIUS / Math.sqrt(3);
  const [x, y, z] = boxCentre(box);
  return [x - half, y - half, z - half, x + half, y + half, z + half];
}

/** How far sight runs aside on its way ahead at the margins within a part of the picture; shares from its lower or left edge. */
function slopes(from: number, to: number, tangent: number): { low: number; high: number } {
  const lack = Math.max(0, LEAST_AREA - (to - from)) / 2;
  const [start, end] = [Math.max(0, from - lack), Math.min(1, to + lack)];
  const margin = (end - start) * MARGIN;
  const slope = (share: number) => (share * 2 - 1) * tangent;
  return { low: slope(start + margin), high: slope(end - margin) };
}
