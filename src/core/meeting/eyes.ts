import type { Vec3 } from '../math/mat4';

/** Where somebody in a meeting looks from. Project coordinates, metres. */
export interface Eyes {
  at: Vec3;
  /** What they look towards: a direction of any length. */
  towards: Vec3;
  /** Height of the eyes above the floor of somebody who stands in the model; null of one who looks from outside. */
  stands: number | null;
}
