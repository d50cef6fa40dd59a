import type { Plane } from '@/core/section/plane';
import type { CoordinateFrame } from '../coordinate-frame';
import type { StageModel } from '../model/stage-model';
import type { CutOutput } from '../workers/cut-task';
import type { WorkerPool } from '../workers/worker-pool';
import { planeInModel } from './plane-in-model';

/**
 * Cuts a model by a plane, off the page and at full detail.
 *
 * @param plane project coordinates @param rows 1 for the elements that are cut, by row
 * @returns what is cut, in the model's own frame
 */
export async function cutModel(
  model: StageModel,
  plane: Plane,
  rows: Uint8Array,
  { frame, pool }: { frame: CoordinateFrame; pool: WorkerPool },
  priority: number,
): Promise<CutOutput> {
  const own = planeInModel(plane, model, frame);
  const tiles = (await model.finest.within(own.touches)).map(({ url }) => url);
  return pool.run('cut-tiles', { tiles, plane: own.plane, rows }, { priority });
}
