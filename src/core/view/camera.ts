import { asRecord } from '../elements/read-element-set';
import type { Vec3 } from '../math/mat4';
import type { ViewPart } from './view-part';

/** A camera in project coordinates: metres, Z up. */
export interface CameraPose {
  position: Vec3;
  /** The point looked at; also the centre of turning. */
  target: Vec3;
  /** Vertical field of view in degrees. */
  fov: number;
  /** Whether lines of sight run parallel: then all is drawn as large as it is at the target. */
  parallel?: true;
}

export const NO_CAMERA: CameraPose = { position: [0, 0, 0], target: [0, 1, 0], fov: 50 };

export const camera: ViewPart<CameraPose> = {
  initial: NO_CAMERA,
  undone: false,
  read(stored) {
    const { position, target, fov, parallel } = asRecord(stored);
    if (!isPoint(position) || !isPoint(target) || typeof fov !== 'number' || !(fov > 0)) return NO_CAMERA;
    return { position, target, fov, ...(parallel === true && { parallel }) };
  },
  describe: ({ parallel }) => (parallel ? 'Drawn without perspective' : ''),
};

function isPoint(value: unknown): value is Vec3 {
  return Array.isArray(value) && value.length === 3 && value.every((one) => Number.isFinite(one));
}

export function sameCamera(a: CameraPose, b: CameraPose): boolean {
  return a === b || JSON.stringify(a) === JSON.stringify(b);
}
