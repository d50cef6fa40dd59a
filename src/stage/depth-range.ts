import type { Vector3 } from 'three';
import { boxCentre, boxDiagonal, isEmptyBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import type { CameraRig } from './camera/camera-rig';
import type { Models } from './features/models';

const NEAREST = 0.05;
const LEAST_FAR = 10;
/** The near plane lies at this share of the way to the nearest thing. */
const SHARE = 0.5;
/** The camera may move so far, as a share of the way to the nearest thing, before that is looked for again. */
const SLACK = 0.25;
/** So far beside a model, as a share of its size, nobody stands in front of a single element. */
const OUTSIDE = 0.02;

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
    // Without perspective the eye is nowhere: what lies behind it shows as well.
    camera.near = this.rig.isParallel ? -camera.far : Math.max(NEAREST, this.nearest * SHARE);
    camera.updateProjectionMatrix();
  }

  private distanceToNearest(): number {
    const { x, y, z } = this.rig.camera.position;
    let nearest = Infinity;
    for (const model of this.models.loaded) {
      if (model.isAway) continue;
      const { isSpread, extent } = model;
      const away = isSpread ? 0 : distanceToBox(this.rig.frame.toProject(this.rig.camera.position), extent);
      if (away > boxDiagonal(extent) * OUTSIDE) {
        // From outside the whole says enough.
        nearest = Math.min(nearest, away * away);
        continue;
      }
      const boxes = model.stageBoxes;
      for (let row = 0, at = 0; row < model.index.count; row++, at += 6) {
        const [dx, dy, dz] = isSpread ? model.offsetOf(row) : IN_PLACE;
        const across = outside(x - dx, boxes[at]!, boxes[at + 3]!);
        const along = outside(y - dy, boxes[at + 1]!, boxes[at + 4]!);
        const up = outside(z - dz, boxes[at + 2]!, boxes[at + 5]!);
        const squared = across * across + along * along + up * up;
        if (squared < nearest) nearest = squared; // never for an element without a shape
      }
    }
    return Number.isFinite(nearest) ? Math.sqrt(nearest) : 0;
  }
}

const IN_PLACE = [0, 0, 0] as const;

function distanceToBox(point: Vec3, box: Box3): number {
  return Math.hypot(...point.map((value, axis) => outside(value, box[axis]!, box[axis + 3]!)));
}

function outside(value: number, low: number, high: number): number {
  if (value < low) return low - value;
  // Of no number comes no number.
  return value > high ? value - high : low - low;
}
