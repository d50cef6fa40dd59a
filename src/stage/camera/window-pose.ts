import { Vector3 } from 'three';
import type { CameraPose } from '@/core/view/camera';
import type { CameraRig } from './camera-rig';

interface Place {
  x: number;
  y: number;
}

/** A drawn window narrower than this share of the picture is none. */
const LEAST_WINDOW = 0.02;

/**
 * The pose that shows what lies within a window drawn on the picture, from the same direction.
 *
 * @param picture where it stands, in client pixels @param from, to opposite corners in client pixels
 * @param surfaceAt nearest surface under a client position, in stage coordinates
 * @returns null where the window is too small
 */
export function windowPose(
  rig: CameraRig,
  picture: { width: number; height: number },
  from: Place,
  to: Place,
  surfaceAt: (x: number, y: number) => Vector3 | null,
): CameraPose | null {
  const share = Math.max(Math.abs(to.x - from.x) / picture.width, Math.abs(to.y - from.y) / picture.height);
  if (share < LEAST_WINDOW) return null;
  const [x, y] = [(from.x + to.x) / 2, (from.y + to.y) / 2];
  const ray = rig.ray(x, y);
  const facing = rig.camera.getWorldDirection(new Vector3());
  const middle = surfaceAt(x, y) ?? ray.at(rig.distance / facing.dot(ray.direction), new Vector3());
  const away = rig.isParallel ? rig.distance : middle.clone().sub(rig.camera.position).dot(facing);
  const position = middle.clone().addScaledVector(facing, -away * share);
  return { ...rig.pose, position: rig.frame.toProject(position), target: rig.frame.toProject(middle) };
}
