import type { Vector3 } from 'three';
import { boxCentre, boxDiagonal, isEmptyBox } from '@/core/math/box3';
import type { CameraRig } from './camera/camera-rig';
import type { Models } from './features/models';

const NEAREST = 0.05;
const LEAST_FAR = 10;
/** The near plane lies at this share of the way to the nearest thing. */
const SHARE = 0.5;
/** The camera may move so far, as a share of the way to the nearest thing, before that is looked for again. */
const SLACK = 0.25;

/**
 * Sets near and far planes for what there is. The near plane goes by the nearest element and not by the size of the site, so
 * that on a site of kilometres one can still stand close to a wall.
 */
export class DepthRange {
  private lookedFrom: Vector3 | null = null;
  private nearest = 0;

  constructor(
    private readonly rig: CameraRig,
    private readonly models: Models,
  ) {}

  /** Something stands elsewhere, or has come in. */
  invalidate(): void {
    this.lookedFrom = null;
  }

  fit(): void {
    const { camera, frame } = this.rig;
    const box = this.models.extent;
    const far = isEmptyBox(box) ? 1000 : camera.position.distanceTo(frame.toStage(boxCentre(box))) + boxDiagonal(box);
    camera.far = Math.max(far, LEAST_FAR);
    const { lookedFrom } = this;
    if (!lookedFrom || lookedFrom.distanceTo(camera.position) > this.nearest * SLACK) {
      this.nearest = this.distanceToNearest();
      this.lookedFrom = camera.position.clone();
    }
    camera.near = Math.max(NEAREST, this.nearest * SHARE);
    camera.updateProjectionMatrix();
  }

  private distanceToNearest(): number {
    const [x, y, z] = this.rig.frame.toProject(this.rig.camera.position);
    let nearest = Infinity;
    for (const model of this.models.loaded) {
      const away = distanceToBox(model.extent, x, y, z);
      if (away >= nearest || model.isAway) continue;
      // Spread elements stand anywhere; the model's box then says nothing about them.
      for (let row = 0; row < model.index.count && nearest > 0; row++) {
        const [dx, dy, dz] = model.offsetOf(row);
        nearest = Math.min(nearest, distanceToBox(model.elementBox(row), x - dx, y - dy, z - dz));
      }
    }
    return Number.isFinite(nearest) ? nearest : 0;
  }
}

function distanceToBox(box: readonly number[], x: number, y: number, z: number): number {
  const outside = (value: number, low: number, high: number) => Math.max(low - value, 0, value - high);
  return Math.hypot(outside(x, box[0]!, box[3]!), outside(y, box[1]!, box[4]!), outside(z, box[2]!, box[5]!));
}
