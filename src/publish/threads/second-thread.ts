import { parentPort } from 'node:worker_threads';
import { THREAD_TASKS, type ThreadTask } from './thread-tasks';
import { takeOver, type Transfer } from './transfer';

export interface ThreadOrder {
  id: number;
  task: ThreadTask;
  given: Transfer;
}

export type ThreadAnswer = { id: number; result: unknown } | { id: number; error: Error };

/** Entry of the thread: does one order after the other. */
async function carryOut({ id, task, given }: ThreadOrder): Promise<ThreadAnswer> {
  try {
    const work = THREAD_TASKS[task] as (given: unknown) => Promise<unknown>;
    return { id, result: await work(takeOver(given)) };
  } catch (error) {
    return { id, error: error instanceof Error ? error : new Error(String(error)) };
  }
}

let last = Promise.resolve();
parentPort!.on('message', (order: ThreadOrder) => {
  last = last.then(async () => parentPort!.postMessage(await carryOut(order)));
});
