import { parentPort } from 'node:worker_threads';
import { CORE_WORK, type CoreTask } from './core-work';
import type { PlacedGeometry } from './element-geometry';
import { unpackGeometry, type PackedGeometry } from './packed-geometry';

export interface CoreOrder {
  id: number;
  task: CoreTask;
  /** What the task is given, without a geometry. */
  given: object;
  /** A geometry where the task is given one; it is held for one more order. */
  geometry: PackedGeometry | 'held' | null;
}

export type CoreAnswer = { id: number; result: unknown } | { id: number; error: Error };

let held: PlacedGeometry | null = null;

/** Entry of the thread: does one order after the other. */
async function carryOut({ id, task, given, geometry }: CoreOrder): Promise<CoreAnswer> {
  try {
    const work = CORE_WORK[task] as (given: unknown) => Promise<unknown>;
    if (geometry === null) return { id, result: await work(given) };
    const whole = geometry === 'held' ? held : unpackGeometry(geometry);
    held = geometry === 'held' ? null : whole;
    return { id, result: await work({ ...given, geometry: whole }) };
  } catch (error) {
    return { id, error: error instanceof Error ? error : new Error(String(error)) };
  }
}

let last = Promise.resolve();
parentPort!.on('message', (order: CoreOrder) => {
  last = last.then(async () => parentPort!.postMessage(await carryOut(order)));
});
