import { boxCentre, boxCorner, boxDiagonal, type Box3 } from '@/core/math/box3';
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

/** Pixels of a row that are sooner tried one by one than told beforehand. */
const SHORT_ROW = 8;

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
    const from = subtract(boxCorner(extent, corner), target);
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

function room(vertices: number): Projected {
  return { x: new Float64Array(vertices), y: new Float64Array(vertices), ahead: new Float64Array(vertices) };
}

/** Projects and fills triangles on the processor, so that pictures need no graphics card. */
export class Raster {
  private readonly forward: Vec3;
  private readonly right: Vec3;
  private readonly up: Vec3;
  private readonly focal: number;
  private projected = room(256);
  /** Where one corner of a box stands. */
  private readonly corner = room(1);

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

  /** How many pixels a ball around a box takes across, at most; no end of them where it reaches behind the viewer. */
  pixelsAcross(box: Box3): number {
    const ahead = dot(subtract(boxCentre(box), this.view.eye), this.forward);
    const size = boxDiagonal(box);
    return ahead - size / 2 <= NEAREST ? Infinity : (size * this.focal) / (ahead - size / 2);
  }

  /** What of the picture a box takes, in pixels, and how far ahead its nearest corner is; null where it reaches behind the viewer. */
  bounds(box: Box3): { left: number; right: number; top: number; bottom: number; nearest: number } | null {
    const seen = { left: Infinity, right: -Infinity, top: Infinity, bottom: -Infinity, nearest: Infinity };
    const at = this.corner;
    for (let corner = 0; corner < 8; corner++) {
      this.locate(at, 0, ...boxCorner(box, corner));
      const [x, y, ahead] = [at.x[0]!, at.y[0]!, at.ahead[0]!];
      if (ahead < NEAREST) return null;
      seen.left = Math.min(seen.left, x);
      seen.right = Math.max(seen.right, x);
      seen.top = Math.min(seen.top, y);
      seen.bottom = Math.max(seen.bottom, y);
      seen.nearest = Math.min(seen.nearest, ahead);
    }
    return seen;
  }

  /**
   * @param positions three numbers a vertex
   * @returns good until the next is asked for; may have room for more than these
   */
  project(positions: Float64Array): Projected {
    const count = positions.length / 3;
    if (count > this.projected.x.length) this.projected = room(count * 2);
    const out = this.projected;
    for (let i = 0, from = 0; i < count; i++, from += 3)
      this.locate(out, i, positions[from]!, positions[from + 1]!, positions[from + 2]!);
    return out;
  }

  private locate(out: Projected, i: number, x: number, y: number, z: number): void {
    const { eye } = this.view;
    const { forward, right, up } = this;
    const dx = x - eye[0];
    const dy = y - eye[1];
    const dz = z - eye[2];
    const ahead = dx * forward[0] + dy * forward[1] + dz * forward[2];
    out.ahead[i] = ahead;
    out.x[i] = this.width / 2 + ((dx * right[0] + dy * right[1] + dz * right[2]) * this.focal) / ahead;
    out.y[i] = this.height / 2 - ((dx * up[0] + dy * up[1] + dz * up[2]) * this.focal) / ahead;
  }

  /**
   * Visits every pixel whose middle lies in a triangle, with the distance ahead there. A triangle that reaches behind
   * the viewer is left out.
   */
  fill(at: Projected, i: number, j: number, k: number, visit: (pixel: number, ahead: number) => void): void {
    const { x, y, ahead } = at;
    if (ahead[i]! < NEAREST || ahead[j]! < NEAREST || ahead[k]! < NEAREST) return;
    const x0 = x[i]!;
    const y0 = y[i]!;
    const x1 = x[j]!;
    const y1 = y[j]!;
    const x2 = x[k]!;
    const y2 = y[k]!;
    // Pixels whose middles lie in the triangle's box; small triangles often have none.
    const left = Math.max(0, Math.ceil(Math.min(x0, x1, x2) - 0.5));
    const right = Math.min(this.width - 1, Math.floor(Math.max(x0, x1, x2) - 0.5));
    const top = Math.max(0, Math.ceil(Math.min(y0, y1, y2) - 0.5));
    const bottom = Math.min(this.height - 1, Math.floor(Math.max(y0, y1, y2) - 0.5));
    if (left > right || top > bottom) return;
    const twice = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0);
    if (Math.abs(twice) < 1e-9) return;
    const q0 = 1 / ahead[i]!;
    const q1 = 1 / ahead[j]!;
    const q2 = 1 / ahead[k]!;
    // Shares of the corners change by the same from pixel to pixel.
    const across0 = (y1 - y2) / twice;
    const across1 = (y2 - y0) / twice;
    const across2 = -across0 - across1;
    const px = left + 0.5;
    for (let row = top; row <= bottom; row++) {
      const py = row + 0.5;
      const start0 = ((x1 - px) * (y2 - py) - (x2 - px) * (y1 - py)) / twice;
      const start1 = ((x2 - px) * (y0 - py) - (x0 - px) * (y2 - py)) / twice;
      let first = 0;
      let last = right - left;
      if (last > SHORT_ROW) {
        // Of a long row only what may lie in the triangle, give or take a pixel.
        const start2 = 1 - start0 - start1;
        const from = Math.max(0, entry(start0, across0), entry(start1, across1), entry(start2, across2));
        const to = Math.min(last, exit(start0, across0), exit(start1, across1), exit(start2, across2));
        first = Math.max(0, Math.ceil(from) - 1);
        last = Math.min(last, to + 1);
      }
      let w0 = start0 + first * across0;
      let w1 = start1 + first * across1;
      for (let column = first; column <= last; column++, w0 += across0, w1 += across1) {
        const w2 = 1 - w0 - w1;
        if (w0 < 0 || w1 < 0 || w2 < 0) continue;
        visit(row * this.width + left + column, 1 / (w0 * q0 + w1 * q1 + w2 * q2));
      }
    }
  }
}

/** After how many pixels a corner's share that begins with this and grows by that is no longer negative. */
function entry(start: number, growth: number): number {
  return growth > 0 ? -start / growth : -Infinity;
}

/** After how many pixels it is negative. */
function exit(start: number, growth: number): number {
  return growth < 0 ? -start / growth : Infinity;
}
