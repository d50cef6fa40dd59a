import { parentPort } from 'node:worker_threads';
import type { BuildingModel } from '@/formats/building-model';
import type { PlacedGeometry } from './element-geometry';
import { examine } from './examination/examine';
import type { Surface } from './pictures';
import { overview, renderPreview } from './preview';

/** What the second core is asked for beside the geometry, and what it answers with. */
export interface SideTasks {
  examine: { given: { model: BuildingModel }; gives: ReturnType<typeof examine> };
  picture: { given: { surfaces: Surface[]; width: number; height: number }; gives: Uint8Array };
}

export type SideTask = keyof SideTasks;
/** Without a geometry, that of the order before is meant. */
export type SideOrder<Task extends SideTask = SideTask> = {
  id: number;
  task: Task;
  geometry: PlacedGeometry | null;
  given: SideTasks[Task]['given'];
};
export type SideAnswer = { id: number; result: unknown } | { id: number; error: Error };

export const SIDE_WORK: {
  [Task in SideTask]: (geometry: PlacedGeometry, given: SideTasks[Task]['given']) => Promise<SideTasks[Task]['gives']>;
} = {
  examine: async (geometry, { model }) => examine(model, geometry),
  picture: ({ pieces, extent }, { surfaces, width, height }) =>
    renderPreview(pieces, surfaces, overview(extent, width / height), width, height),
};

let held: PlacedGeometry | null = null;

/** Entry of the thread: does one order after the other. */
async function carryOut({ id, task, geometry, given }: SideOrder): Promise<SideAnswer> {
  try {
    held = geometry ?? held;
    const work = SIDE_WORK[task] as (geometry: PlacedGeometry, given: unknown) => Promise<unknown>;
    return { id, result: await work(held!, given) };
  } catch (error) {
    return { id, error: error instanceof Error ? error : new Error(String(error)) };
  }
}

let last = Promise.resolve();
parentPort?.on('message', (order: SideOrder) => {
  last = last.then(async () => parentPort!.postMessage(await carryOut(order)));
});
