import type { Vec3 } from '../math/mat4';
import type { Eyes } from './eyes';

/** What each person in a meeting shows of themselves, by participant; null where it has gone. Only what changed. */
export interface Shown {
  /** Where they point, in project coordinates. */
  pointers: Record<string, Vec3 | null>;
  /** From where they look. */
  eyes: Record<string, Eyes | null>;
}
