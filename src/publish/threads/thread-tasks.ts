import type { BuildingModel } from '@/formats/building-model';
import type { RevisionPlans } from '@/core/plan/plan';
import type { Box3 } from '@/core/math/box3';
import { bodies } from '../detail/coarsen';
import type { DetailPart } from '../detail/split-pieces';
import type { PlacedGeometry } from '../geometry/element-geometry';
import { encodeTile, type EncodedTile } from '../tiles/encode-tile';
import { examine, type Examination } from '../examination/examine';
import type { Surface } from '../pictures/pictures';
import { plansOf } from '../plans/plans';
import { overview, renderPreview } from '../preview/preview';
import type { TileContent } from '../geometry/repeats';

/** What any core can do: what it is given, and what it gives. */
export interface ThreadTasks {
  examine: { given: { model: BuildingModel; geometry: PlacedGeometry }; gives: Examination };
  /** Parts made coarser. @see bodies */
  coarsen: { given: { parts: DetailPart[]; allowed: number }; gives: DetailPart[] };
  encode: {
    given: { content: TileContent; box: Box3; surfaces: Surface[]; pictures: ReadonlyMap<number, string> };
    gives: EncodedTile | null;
  };
  plans: {
    given: { model: Pick<BuildingModel, 'elements' | 'storeys'>; geometry: PlacedGeometry };
    gives: RevisionPlans;
  };
  picture: {
    given: { geometry: PlacedGeometry; surfaces: Surface[]; width: number; height: number };
    gives: Uint8Array;
  };
}

export type ThreadTask = keyof ThreadTasks;

export const THREAD_TASKS: {
  [Task in ThreadTask]: (given: ThreadTasks[Task]['given']) => Promise<ThreadTasks[Task]['gives']>;
} = {
  examine: ({ model, geometry }) => examine(model, geometry),
  coarsen: ({ parts, allowed }) => bodies(parts, allowed),
  encode: ({ content, box, surfaces, pictures }) => encodeTile(content, box, surfaces, pictures),
  plans: ({ model, geometry }) => plansOf(model, geometry),
  picture: ({ geometry, surfaces, width, height }) =>
    renderPreview(geometry.pieces, surfaces, overview(geometry.extent, width / height), width, height),
};
