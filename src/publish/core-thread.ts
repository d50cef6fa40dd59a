import { parentPort } from 'node:worker_threads';
import { CORE_WORK, type CoreTask } from './core-work';
import { takeOver, type HandedOver } from './handed-over';

export interface CoreOrder {
  id: number;
  task: CoreTask;
  given: HandedOver;
}

export type CoreAnswer = { id: number; result: unknown } | { id: number; error: Error };

/** Entry of the thread: does one order after the other. */
async function carryOut({ id, task, given }: CoreOrder): Promise<CoreAnswer> {
  try {
    const work = CORE_WORK[task] as (given: unknown) => Promise<unknown>;
    return { id, result: await work(takeOver(given)) };
  } catch (error) {
    return { id, error: error instanceof Error ? error : new Error(String(error)) };
  }
}

let last = Promise.resolve();
parentPort!.on('message', (order: CoreOrder) => {
  last = last.then(async () => parentPort!.postMessage(await carryOut(order)));
});
