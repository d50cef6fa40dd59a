import { Box3, Line3, Matrix4, Ray, Vector3 } from 'three';
import { columnValue } from '@/core/elements/element-index';
import type { Vec3 } from '@/core/math/mat4';
import type { Surroundings, Touch } from '@/core/walk/walk';
import type { CoordinateFrame } from '../coordinate-frame';
import type { StageModel } from '../model/stage-model';
import type { Surfaces } from '../surfaces/surfaces';

/** Doors count as open. What only marks a volume stops nobody. */
const PASSED = /door|opening|space|annotation|virtual/i;
/** Cosine of the steepest slope that one can stand on. */
const STEEPEST = 0.6;
/** Metres about somebody that have to be there before they go on, and that are loaded ahead. */
const NEEDED = 0.8;
export const LOADED_AHEAD = 9;
/** Above a place from which one looks down. */
const OFF = 0.001;

/** What somebody who walks meets: the finest surfaces of what shows, apart from doors and from what is cut away. */
export class Ground implements Surroundings {
  private readonly passable = new WeakMap<StageModel, Uint8Array>();
  private readonly down = new Vector3(0, 0, -1);
  private readonly box = new Box3();
  private readonly segment = new Line3();
  private readonly onTriangle = new Vector3();
  private readonly onSegment = new Vector3();

  constructor(
    private readonly models: () => readonly StageModel[],
    private readonly frame: CoordinateFrame,
    private readonly surfaces: Surfaces,
  ) {}

  /** Loads what is needed about a place (project coordinates). */
  load(at: Vec3): Promise<void> {
    return this.surfaces.load(at, LOADED_AHEAD);
  }

  isReady(at: Vec3): boolean {
    return this.each(at, (model, local) => {
      const { isWhole } = model.finest.ready((box) => box.distanceToPoint(local) <= NEEDED);
      return isWhole;
    });
  }

  floor(x: number, y: number, from: number, depth: number): number | null {
    let best: number | null = null;
    this.each([x, y, from], (model, local) => {
      const ray = new Ray(local, this.down);
      const { meshes } = model.finest.ready((box) => reaches(box, local, depth));
      for (const mesh of meshes) {
        const height = mesh.floorBelow(ray, depth, STEEPEST, (row, point) => this.stops(model, row, point));
        if (height === null) continue;
        const z = height + (from - local.z);
        if (best === null || z > best) best = z;
      }
      return true;
    });
    return best;
  }

  floorBelow(x: number, y: number, from: number): number | null {
    const near = this.floor(x, y, from, Infinity);
    if (near !== null) return near;
    // What is far below may be there only as the screen has it.
    const ray = new Ray(this.frame.toStage([x, y, from - OFF]), this.down);
    return this.surfaces.hit(ray).value?.point[2] ?? null;
  }

  touch(x: number, y: number, low: number, high: number, radius: number): Touch | null {
    let best: Touch | null = null;
    this.each([x, y, low], (model, local) => {
      this.segment.start.copy(local);
      this.segment.end.copy(local).setZ(local.z + high - low);
      this.box.setFromPoints([this.segment.start, this.segment.end]).expandByScalar(radius);
      const { meshes } = model.finest.ready((tile) => tile.intersectsBox(this.box));
      for (const mesh of meshes)
        mesh.trianglesIn(this.box, (triangle, row) => {
          const apart = triangle.closestPointToSegment(this.segment, this.onTriangle, this.onSegment);
          const depth = radius - apart;
          if (depth <= 0 || (best && depth <= best.depth) || !this.stops(model, row, this.onTriangle)) return;
          const out = this.onSegment.clone().sub(this.onTriangle);
          if (out.lengthSq() < 1e-12) triangle.getNormal(out).setZ(0);
          out.normalize().transformDirection(model.group.matrixWorld);
          best = { out: [out.x, out.y, out.z], depth };
        });
      return true;
    });
    return best;
  }

  /** Asks every model that shows, with a place in its own coordinates; whether all say yes. */
  private each(at: Vec3, ask: (model: StageModel, local: Vector3) => boolean): boolean {
    const inverse = new Matrix4();
    return this.models().every((model) => {
      if (model.isAway) return true;
      return ask(model, this.frame.toStage(at).applyMatrix4(inverse.copy(model.group.matrixWorld).invert()));
    });
  }

  /** @param point in the model's own coordinates */
  private stops(model: StageModel, row: number, point: Vector3): boolean {
    if (!model.isSolid(row) || this.passableOf(model)[row]) return false;
    return !model.isCutAway(row, point.clone().applyMatrix4(model.group.matrixWorld));
  }

  private passableOf(model: StageModel): Uint8Array {
    let rows = this.passable.get(model);
    if (!rows) {
      const { category, count } = model.index;
      rows = Uint8Array.from({ length: count }, (_, row) => Number(PASSED.test(columnValue(category, row))));
      this.passable.set(model, rows);
    }
    return rows;
  }
}

/** Whether a box lies on the way down from a point. */
function reaches({ min, max }: Box3, { x, y, z }: Vector3, depth: number): boolean {
  return x >= min.x && x <= max.x && y >= min.y && y <= max.y && min.z <= z && max.z >= z - depth;
}
