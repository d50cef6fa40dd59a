import type { Vec3 } from '../math/mat4';
import type { CameraPose } from './camera';

/** Smooth start and end: 3t² - 2t³. */
export function ease(t: number): number {
  const u = Math.min(1, Math.max(0, t));
  return u * u * (3 - 2 * u);
}

/**
 * The pose a share `t` (0..1) along an eased flight. The eye goes round the target instead of through it: direction and
 * distance are blended separately, the distance geometrically.
 */
export function flightPose(from: CameraPose, to: CameraPose, t: number): CameraPose {
  const s = ease(t);
  const mix = (a: number, b: number) => a + (b - a) * s;
  const target = from.target.map((value, axis) => mix(value, to.target[axis]!)) as Vec3;
  const a = polar(from);
  const b = polar(to);
  let turn = b.azimuth - a.azimuth;
  if (turn > Math.PI) turn -= 2 * Math.PI;
  if (turn < -Math.PI) turn += 2 * Math.PI;
  const azimuth = a.azimuth + turn * s;
  const elevation = mix(a.elevation, b.elevation);
  const distance = a.distance ** (1 - s) * b.distance ** s;
  const across = Math.cos(elevation) * distance;
  return {
    target,
    position: [
      target[0] + across * Math.cos(azimuth),
      target[1] + across * Math.sin(azimuth),
      target[2] + Math.sin(elevation) * distance,
    ],
    fov: mix(from.fov, to.fov),
    ...(to.parallel && { parallel: to.parallel }),
  };
}

function polar(pose: CameraPose) {
  const [x, y, z] = pose.position.map((value, axis) => value - pose.target[axis]!) as Vec3;
  const distance = Math.max(Math.hypot(x, y, z), 1e-6);
  return { distance, azimuth: Math.atan2(y, x), elevation: Math.asin(Math.min(1, Math.max(-1, z / distance))) };
}
