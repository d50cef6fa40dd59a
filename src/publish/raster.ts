import { boxCentre, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { cross, dot, subtract, unit } from '@/core/math/vec3';

/** A view in perspective, in the revision's frame. */
export interface RasterView {
  eye: Vec3;
  target: Vec3;
  /** Vertical field of view in degrees. */
  fov: number;
}

/** Vertices on the picture: across, down (both in pixels) and ahead (metres). */
export interface Projected {
  x: Float64Array;
  y: Float64Array;
  ahead: Float64Array;
}

/** Metres before the eye at which the picture begins. */
const NEAREST = 0.1;

const FOV = 40;
const MARGIN = 1.06;

/**
 * A view of the whole from outside that is as near as it can be with every corner of the box in the picture.
 *
 * @param direction from the whole towards the viewer; need not have length one
 * @param aspect width by height
 */
export function viewFrom(extent: Box3, direction: Vec3, aspect = 1): RasterView {
  const target = boxCentre(extent);
  const towards = unit(direction);
  const { right, up } = axesOf([-towards[0], -towards[1], -towards[2]]);
  const half = Math.tan((FOV * Math.PI) / 360);
  let distance = NEAREST * 2;
  for (let corner = 0; corner < 8; corner++) {
    const from = subtract([0, 1, 2].map((axis) => extent[axis + (corner & (1 << axis) ? 3 : 0)]!) as Vec3, target);
    const reach = Math.max(Math.abs(dot(from, up)), Math.abs(dot(from, right)) / aspect) * MARGIN;
    distance = Math.max(distance, reach / half + dot(from, towards));
  }
  return { target, eye: [0, 1, 2].map((axis) => target[axis]! + towards[axis]! * distance) as Vec3, fov: FOV };
}

/** Right and up of a picture that looks along a direction of length one. */
function axesOf(forward: Vec3): { right: Vec3; up: Vec3 } {
  const sideways = cross(forward, [0, 0, 1]);
  const right: Vec3 = Math.hypot(...sideways) < 1e-6 ? [1, 0, 0] : unit(sideways);
  return { right, up: cross(right, forward) };
}

/** Projects and fills triangles on the processor, so that pictures need no graphics card. */
export class Raster {
  private readonly forward: Vec3;
  private readonly right: Vec3;
  private readonly up: Vec3;
  private readonly focal: number;

  constructor(
    readonly view: RasterView,
    readonly width: number,
    readonly height: number,
  ) {
    this.forward = unit(subtract(view.target, view.eye));
    const { right, up } = axesOf(this.forward);
    this.right = right;
    this.up = up;
    this.focal = height / 2 / Math.tan((view.fov * Math.PI) / 360);
  }

  /** @param positions three numbers a vertex */
  project(positions: Float64Array): Projected {
    const count = positions.length / 3;
    const out = { x: new Float64Array(count), y: new Float64Array(count), ahead: new Float64Array(count) };
    const { eye } = this.view;
    for (let i = 0; i < count; i++) {
      const d: Vec3 = [positions[i * 3]! - eye[0], positions[i * 3 + 1]! - eye[1], positions[i * 3 + 2]! - eye[2]];
      const ahead = dot(d, this.forward);
      out.ahead[i] = ahead;
      out.x[i] = this.width / 2 + (dot(d, this.right) * this.focal) / ahead;
      out.y[i] = this.height / 2 - (dot(d, this.up) * this.focal) / ahead;
    }
    return out;
  }

  /**
   * Visits every pixel whose middle lies in a triangle, with the distance ahead there. A triangle that reaches behind
   * the viewer is left out.
   */
  fill(at: Projected, i: number, j: number, k: number, visit: (pixel: number, ahead: number) => void): void {
    const { x, y, ahead } = at;
    if (ahead[i]! < NEAREST || ahead[j]! < NEAREST || ahead[k]! < NEAREST) return;
    const [x0, y0, x1, y1, x2, y2] = [x[i]!, y[i]!, x[j]!, y[j]!, x[k]!, y[k]!];
    const twice = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0);
    if (Math.abs(twice) < 1e-9) return;
    const [q0, q1, q2] = [1 / ahead[i]!, 1 / ahead[j]!, 1 / ahead[k]!];
    const left = Math.max(0, Math.floor(Math.min(x0, x1, x2)));
    const right = Math.min(this.width - 1, Math.ceil(Math.max(x0, x1, x2)));
    const top = Math.max(0, Math.floor(Math.min(y0, y1, y2)));
    const bottom = Math.min(this.height - 1, Math.ceil(Math.max(y0, y1, y2)));
    for (let row = top; row <= bottom; row++) {
      for (let column = left; column <= right; column++) {
        const w0 = ((x1 - column - 0.5) * (y2 - row - 0.5) - (x2 - column - 0.5) * (y1 - row - 0.5)) / twice;
        const w1 = ((x2 - column - 0.5) * (y0 - row - 0.5) - (x0 - column - 0.5) * (y2 - row - 0.5)) / twice;
        const w2 = 1 - w0 - w1;
        if (w0 < 0 || w1 < 0 || w2 < 0) continue;
        visit(row * this.width + column, 1 / (w0 * q0 + w1 * q1 + w2 * q2));
      }
    }
  }
}
