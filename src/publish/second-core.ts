import type { Worker } from 'node:worker_threads';
import { startThread } from '@/formats/start-thread';
import type { PlacedGeometry } from './element-geometry';
import { SIDE_WORK, type SideAnswer, type SideOrder, type SideTask, type SideTasks } from './side-work';

/** A model of fewer triangles is done sooner than a thread has started. */
const WORTH_A_THREAD = 20_000;

/**
 * Examines and pictures a model in a thread beside the one that makes its tiles. Triangles are handed over without being
 * copied: their coordinates lie in shared memory. Of a small model nothing is handed over.
 */
export class SecondCore {
  private readonly worker: Worker | null;
  private readonly waiting = new Map<number, { done: (result: never) => void; fail: (error: Error) => void }>();
  private orders = 0;
  /** What the thread has already. */
  private held: PlacedGeometry | null = null;

  /** @param triangles of the model */
  constructor(triangles: number) {
    this.worker = triangles < WORTH_A_THREAD ? null : startThread(import.meta.url, './side-work');
    this.worker?.on('message', (answer: SideAnswer) => {
      const order = this.waiting.get(answer.id);
      this.waiting.delete(answer.id);
      if ('error' in answer) order?.fail(answer.error);
      else order?.done(answer.result as never);
    });
    this.worker?.on('error', (error) => this.giveUp(error));
    this.worker?.on('exit', () => this.giveUp(new Error('the second thread ended before its work')));
  }

  run<Task extends SideTask>(
    task: Task,
    geometry: PlacedGeometry,
    given: SideTasks[Task]['given'],
  ): Promise<SideTasks[Task]['gives']> {
    if (!this.worker) return SIDE_WORK[task](geometry, given);
    const order: SideOrder<Task> = {
      id: this.orders++,
      task,
      geometry: geometry === this.held ? null : geometry,
      given,
    };
    this.held = geometry;
    return new Promise((done, fail) => {
      this.waiting.set(order.id, { done, fail });
      this.worker!.postMessage(order);
    });
  }

  async end(): Promise<void> {
    await this.worker?.terminate();
  }

  private giveUp(error: Error): void {
    for (const { fail } of this.waiting.values()) fail(error);
    this.waiting.clear();
  }
}
