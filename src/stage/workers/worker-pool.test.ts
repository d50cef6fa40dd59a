import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { AnswerMessage, TaskMessage } from './page-worker';
import type { DistanceOutput } from './distance-task';
import { WorkerPool, type PoolWorker } from './worker-pool';

/** A worker whose answers the test gives. */
class FakeWorker implements PoolWorker {
  onmessage: PoolWorker['onmessage'] = null;
  onerror: PoolWorker['onerror'] = null;
  onmessageerror: PoolWorker['onmessageerror'] = null;
  readonly got: TaskMessage[] = [];
  isTerminated = false;

  postMessage(message: TaskMessage): void {
    this.got.push(message);
  }
  terminate(): void {
    this.isTerminated = true;
  }
  answer(message: Omit<AnswerMessage, 'id'>, at = this.got.length - 1): void {
    const data = { ...message, id: this.got[at]!.id };
    (this.onmessage as unknown as (event: { data: unknown }) => void)({ data });
  }
  breakDown(message: string): void {
    (this.onerror as unknown as (event: { message: string }) => void)({ message });
  }
}

const INPUT = {
  a: { positions: new Float32Array(), indices: new Uint32Array() },
  b: { positions: new Float32Array(), indices: new Uint32Array() },
};
let workers: FakeWorker[];
let pool: WorkerPool;
beforeEach(() => {
  workers = [];
  pool = new WorkerPool(() => {
    workers.push(new FakeWorker());
    return workers.at(-1)!;
  }, 1);
});
afterEach(() => pool.dispose());

function run(options = {}): Promise<DistanceOutput> {
  const task = pool.run('element-distance', INPUT, options);
  task.catch(() => undefined); // what is still going on at a test's end is cancelled with its pool
  return task;
}
const found: DistanceOutput = { from: [0, 0, 0], to: [1, 0, 0], distance: 1 };

describe('the pool of workers', () => {
  it('starts a worker when there is work, and hands back its answer', async () => {
    expect(workers).toHaveLength(0);
    const task = run();
    workers[0]!.answer({ output: found });
    expect(await task).toEqual(found);
  });

  it('tells the caller what went wrong in the worker, and goes on', async () => {
    const task = run();
    workers[0]!.answer({ error: 'The tile is damaged.' });
    await expect(task).rejects.toThrow('The tile is damaged.');
    const next = run();
    workers[0]!.answer({ output: found });
    expect(await next).toEqual(found);
  });

  it('replaces a worker that breaks down; all that it had fails with the reason', async () => {
    const tasks = [run(), run()];
    workers[0]!.breakDown('out of memory');
    for (const task of tasks) await expect(task).rejects.toThrow('out of memory');
    expect(workers[0]!.isTerminated).toBe(true);
    const next = run();
    workers[1]!.answer({ output: found });
    expect(await next).toEqual(found);
  });

  it('fails a task whose worker cannot be started', async () => {
    const broken = new WorkerPool(() => {
      throw new Error('Workers are not allowed here.');
    }, 1);
    await expect(broken.run('element-distance', INPUT)).rejects.toThrow('Workers are not allowed here.');
  });

  it('gives a worker a few tasks ahead, then the most urgent of those that wait', async () => {
    const tasks = Array.from({ length: 8 }, () => run());
    const urgent = run({ priority: 5 });
    expect(workers[0]!.got).toHaveLength(6);
    workers[0]!.answer({ output: found }, 0);
    workers[0]!.answer({ output: null });
    expect(await urgent).toBeNull();
    expect(await tasks[0]).toEqual(found);
  });

  it('cancels: what waits is not begun, a worker that does nothing else is stopped', async () => {
    const controller = new AbortController();
    const only = run({ signal: controller.signal });
    controller.abort();
    await expect(only).rejects.toThrow('cancelled');
    expect(workers[0]!.isTerminated).toBe(true);

    const busy = Array.from({ length: 6 }, () => run());
    const later = new AbortController();
    const waiting = run({ signal: later.signal });
    later.abort();
    await expect(waiting).rejects.toThrow('cancelled');
    expect(workers[1]!.isTerminated).toBe(false);
    for (let i = 0; i < 6; i++) workers[1]!.answer({ output: found }, i);
    expect(await Promise.all(busy)).toHaveLength(6);
    expect(workers[1]!.got).toHaveLength(6);

    await expect(run({ signal: AbortSignal.abort() })).rejects.toThrow('cancelled');
  });

  it('leaves nobody waiting when the page goes', async () => {
    const tasks = Array.from({ length: 9 }, () => run());
    pool.dispose();
    for (const task of tasks) await expect(task).rejects.toThrow('cancelled');
  });
});
