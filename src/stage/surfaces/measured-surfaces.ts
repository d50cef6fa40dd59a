import { Ray, Vector3 } from 'three';
import { columnValue } from '@/core/elements/element-index';
import type { ElementRef } from '@/core/elements/element-ref';
import type { Vec3 } from '@/core/math/mat4';
import { add, cross, distance, dot, scale, subtract, unit } from '@/core/math/vec3';
import { bodyFaces } from '@/core/mesh/body-faces';
import type { Circle } from '@/core/snap/fit-circle';
import type { ElementFeatures } from '@/core/snap/element-features';
import type { CoordinateFrame } from '../coordinate-frame';
import { triangleNearest } from './surface-mesh';
import type { SurfaceHit, Surfaces } from './surfaces';

/** A face with its area. Project coordinates, metres. */
export interface MeasuredFace {
  area: number;
  outline: Vec3[];
}

/** Steeper surfaces than this are walls; on all others one stands. Cosine of the angle to the vertical. */
const UPRIGHT = 0.7;
/** Metres above a floor at which its clear width is taken: of handrails and door handles. */
const WIDTH_HEIGHT = 1;
/** Directions in which the narrowest clear width is sought, over half a turn. */
const DIRECTIONS = 36;
/** Metres by which a ray begins before the surface that it leaves. */
const OFF = 0.001;
/** Things on which one stands. */
const FLOORS = /slab|floor|stair|ramp|roof|covering|site|terrain|geographic|earth|footing|pavement/i;
const MOST_LAYERS = 60;
/** Metres above a floor at which a ceiling is looked for: over thresholds and carpets. */
const OFF_FLOOR = 1;

/** What can be measured from a single place: questions about the real geometry at full detail. */
export class MeasuredSurfaces {
  constructor(
    private readonly surfaces: Surfaces,
    private readonly frame: CoordinateFrame,
    private readonly featuresOf: (ref: ElementRef) => ElementFeatures,
  ) {}

  /** The face on which a place lies, as far as no edge ends it; null where its element has none. */
  async face(element: ElementRef, point: Vec3): Promise<MeasuredFace | null> {
    const found = await this.surfaces.trianglesFor(element);
    if (!found) return null;
    const { positions, indices } = found;
    const { faces, of } = bodyFaces(positions, indices, 'smooth');
    const triangle = triangleNearest(positions, indices, this.frame.toStage(point));
    const face = faces[of[triangle] ?? -1];
    if (!face) return null;
    const [outer] = [...face.loops].sort((a, b) => boxSize(b) - boxSize(a));
    const outline = (outer ?? []).map((corner) => this.frame.toProject(new Vector3(...corner)));
    return { area: face.area, outline };
  }

  /** The circle about which the surface at a place turns, or which it borders; null where nothing is round. */
  round(element: ElementRef, point: Vec3): (Circle & { rim: Vec3 }) | null {
    let best: (Circle & { rim: Vec3 }) | null = null;
    let least = Infinity;
    for (const circle of this.featuresOf(element).circles) {
      const from = subtract(point, circle.centre);
      const along = dot(from, circle.normal);
      const aside = subtract(from, scale(circle.normal, along));
      const off = Math.abs(Math.hypot(...aside) - circle.radius);
      // The facets of a round body lie a little within its circle.
      const isOn = off < Math.max(0.003, 0.06 * circle.radius);
      const isWithin = Math.abs(along) < 0.003 && off < circle.radius;
      if ((!isOn && !isWithin) || Math.abs(along) + off >= least) continue;
      least = Math.abs(along) + off;
      const outward = Math.hypot(...aside) > 1e-6 ? unit(aside) : unit(cross(circle.normal, [0.3, 0.5, 0.8]));
      best = { ...circle, rim: add(circle.centre, scale(outward, circle.radius)) };
    }
    return best;
  }

  /**
   * The clear width at a place: from a wall square to what stands opposite; on a floor the narrowest, both ways, a metre above it.
   *
   * @param axis in which it is taken, instead
   * @returns null where nothing stands opposite
   */
  async clearWidth(point: Vec3, normal: Vec3, axis: Vec3 | null): Promise<[Vec3, Vec3] | null> {
    if (!axis && Math.abs(normal[2]) < UPRIGHT) {
      const other = await this.cast(add(point, scale(normal, OFF)), normal);
      return other && [point, other.point];
    }
    const isFloor = normal[2] >= UPRIGHT;
    const from = add(point, isFloor ? [0, 0, WIDTH_HEIGHT] : scale(normal, OFF));
    const directions = axis
      ? [axis]
      : Array.from({ length: DIRECTIONS }, (_, i): Vec3 => {
          const turn = (Math.PI * i) / DIRECTIONS;
          return [Math.cos(turn), Math.sin(turn), 0];
        });
    let best: [Vec3, Vec3] | null = null;
    for (const direction of directions) {
      const [one, other] = await Promise.all([this.cast(from, direction), this.cast(from, scale(direction, -1))]);
      if (one && other && (!best || distance(one.point, other.point) < distance(...best)))
        best = [other.point, one.point];
    }
    return best;
  }

  /** A place and the floor under it; null where there is none. @param element what the place is on, which is no floor to it */
  async floorBelow(point: Vec3, element: ElementRef | null): Promise<[Vec3, Vec3] | null> {
    const below: SurfaceHit[] = [];
    let from = point;
    for (let layer = 0; layer < MOST_LAYERS; layer++) {
      const hit = await this.cast(from, [0, 0, -1], element);
      if (!hit) break;
      from = add(hit.point, [0, 0, -OFF]);
      if (distance(hit.point, point) > OFF) below.push(hit);
      if (below.length > 0 && this.isFloor(below[below.length - 1]!)) return [point, below[below.length - 1]!.point];
    }
    return below.length > 0 ? [point, below[0]!.point] : null;
  }

  /** Height of what hangs over a place, in project coordinates; null under the sky. */
  async ceilingOver(point: Vec3): Promise<number | null> {
    const hit = await this.cast(add(point, [0, 0, OFF_FLOOR]), [0, 0, 1]);
    return hit && hit.point[2];
  }

  private isFloor({ element, row }: SurfaceHit): boolean {
    const model = this.surfaces.modelOf(element);
    return model !== undefined && FLOORS.test(columnValue(model.index.category, row));
  }

  private cast(from: Vec3, direction: Vec3, except: ElementRef | null = null): Promise<SurfaceHit | null> {
    return this.surfaces.exactHit(new Ray(this.frame.toStage(from), new Vector3(...direction)), { except });
  }
}

function boxSize(loop: readonly Vec3[]): number {
  return [0, 1, 2].reduce((sum, axis) => {
    const values = loop.map((point) => point[axis]!);
    return sum + Math.max(...values) - Math.min(...values);
  }, 0);
}
