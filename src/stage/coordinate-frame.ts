import { Vector3 } from 'three';
import type { Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';

/**
 * Project and stage coordinates: both are metres, Z up. The stage's zero lies near what is shown, so that what the graphics
 * card sees, in single precision, is near zero. The one place where the two meet.
 */
export class CoordinateFrame {
  /** The stage's zero in project coordinates. */
  origin: Vec3 = [0, 0, 0];

  toStage([x, y, z]: Vec3, target = new Vector3()): Vector3 {
    return target.set(x - this.origin[0], y - this.origin[1], z - this.origin[2]);
  }

  toProject({ x, y, z }: Vector3): Vec3 {
    return [x + this.origin[0], y + this.origin[1], z + this.origin[2]];
  }

  boxToStage(box: Box3): { min: Vector3; max: Vector3 } {
    return { min: this.toStage([box[0], box[1], box[2]]), max: this.toStage([box[3], box[4], box[5]]) };
  }
}
