import { parentPort } from 'node:worker_threads';
import type { BuildingModel } from '@/formats/building-model';
import type { PlacedGeometry } from './element-geometry';
import { examine } from './examination/examine';
import type { Surface } from './pictures';
import { overview, renderPreview } from './preview';

/** What the second core is asked for, and what it answers with. */
export interface SideTasks {
  examine: { given: { model: BuildingModel; geometry: PlacedGeometry }; gives: ReturnType<typeof examine> };
  picture: {
    given: { geometry: PlacedGeometry; surfaces: Surface[]; width: number; height: number };
    gives: Uint8Array;
  };
}

export type SideTask = keyof SideTasks;
export type SideOrder<Task extends SideTask = SideTask> = { id: number; task: Task; given: SideTasks[Task]['given'] };
export type SideAnswer = { id: number; result: unknown } | { id: number; error: Error };

export const SIDE_WORK: { [Task in SideTask]: (given: SideTasks[Task]['given']) => Promise<SideTasks[Task]['gives']> } =
  {
    examine: async ({ model, geometry }) => examine(model, geometry),
    picture: ({ geometry, surfaces, width, height }) =>
      renderPreview(geometry.pieces, surfaces, overview(geometry.extent, width / height), width, height),
  };

/** Entry of the thread: does one order after the other. */
async function carryOut({ id, task, given }: SideOrder): Promise<SideAnswer> {
  try {
    return { id, result: await (SIDE_WORK[task] as (given: unknown) => Promise<unknown>)(given) };
  } catch (error) {
    return { id, error: error instanceof Error ? error : new Error(String(error)) };
  }
}

let last = Promise.resolve();
parentPort?.on('message', (order: SideOrder) => {
  last = last.then(async () => parentPort!.postMessage(await carryOut(order)));
});
