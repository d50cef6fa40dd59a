import type { Vec3 } from '@/core/math/mat4';
import { planeFrame, inPlane } from '@/core/section/plane';
import { pathPoints } from '@/core/section/path';
import type { CoordinateFrame } from '../coordinate-frame';
import type { StageModel } from '../model/stage-model';
import type { WorkerPool } from '../workers/worker-pool';
import { cutModel } from './cut-model';

/** Metres above a floor at which plans are cut: as is usual, or else where openings and furniture may be out of the way. */
const PLAN_HEIGHTS = [1.2, 2, 0.6, 2.4];

/** Rooms by what encloses them, also where the file names none. */
export class Rooms {
  constructor(
    private readonly models: () => readonly StageModel[],
    readonly frame: CoordinateFrame,
    readonly pool: WorkerPool,
  ) {}

  /**
   * The outline of the room over a place of its floor: what encloses it at the first height of plans at which something does.
   *
   * @param point project coordinates, metres
   * @returns corners at the height of the place; null where nothing encloses it
   */
  async around(point: Vec3): Promise<Vec3[] | null> {
    for (const height of PLAN_HEIGHTS) {
      const outline = await this.atHeight(point, height);
      if (outline) return outline;
    }
    return null;
  }

  private async atHeight(point: Vec3, height: number): Promise<Vec3[] | null> {
    // Loaded when somebody asks for a room: most who look never do.
    const [{ CutPlaces }, { roomAround }] = await Promise.all([
      import('../features/cuts/cut-places'),
      import('@/core/section/room'),
    ]);
    const plane = { normal: [0, 0, 1] as Vec3, offset: point[2] + height };
    const level = planeFrame(plane);
    const regions = await Promise.all(
      this.models()
        .filter((model) => !model.isAway)
        .map(async (model) => {
          const face = { key: 'room', plane };
          const { cuts } = await cutModel(model, plane, model.solidRows, this, 1);
          const places = new CutPlaces({ model, face, cuts }, this.frame);
          return cuts.flatMap((cut) => places.shapeIn(level, cut).regions);
        }),
    );
    const room = roomAround(regions.flat(), inPlane(level, point));
    // In a level plane seen from above, the frame's axes are east and north.
    return room && pathPoints(room.border, (x, y): Vec3 => [x, y, point[2]]);
  }
}
