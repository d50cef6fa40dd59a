import { setImmediate } from 'node:timers/promises';
import type { Worker } from 'node:worker_threads';
import type { CoreAnswer, CoreOrder } from './core-thread';
import { CORE_WORK, type CoreTask, type CoreTasks } from './core-work';
import type { PlacedGeometry } from './element-geometry';

type Core = 'here' | 'there';

/**
 * The cores that publishing works on: this thread and, for a file that is worth it, one beside it. Each does one thing
 * at a time. What is handed over is copied, but for coordinates that lie in shared memory; a whole model is copied once
 * for two orders.
 */
export class Cores {
  private readonly orders = new Map<number, { done: (result: never) => void; fail: (error: Error) => void }>();
  private count = 0;
  /** What the other thread has, for one more order. */
  private held: PlacedGeometry | null = null;
  private readonly free: Core[];
  private readonly waiting: { wants: Core | null; take: (core: Core) => void }[] = [];

  /** @param thread another one that works here, by `core-thread`; null for none. Whoever started it ends it. */
  constructor(private readonly thread: Worker | null) {
    // The other thread first: this one then goes on. It has the next order already while it is at work, because its answer is
    // heard only when this one pauses.
    this.free = this.thread ? ['there', 'there', 'here'] : ['here'];
    this.thread?.on('message', (answer: CoreAnswer) => {
      const order = this.orders.get(answer.id);
      this.orders.delete(answer.id);
      if ('error' in answer) order?.fail(answer.error);
      else order?.done(answer.result as never);
    });
    this.thread?.on('error', (error) => this.giveUp(error));
    this.thread?.on('exit', () => this.giveUp(new Error('the second thread ended before its work')));
  }

  /** Does something in the other thread if there is one, so that this one can go on meanwhile. */
  beside<Task extends CoreTask>(task: Task, given: CoreTasks[Task]['given']): Promise<CoreTasks[Task]['gives']> {
    return this.run(task, given, this.thread ? 'there' : 'here');
  }

  /** Does something in whichever thread is free first. */
  anywhere<Task extends CoreTask>(task: Task, given: CoreTasks[Task]['given']): Promise<CoreTasks[Task]['gives']> {
    return this.run(task, given, null);
  }

  private async run<Task extends CoreTask>(
    task: Task,
    given: CoreTasks[Task]['given'],
    wants: Core | null,
  ): Promise<CoreTasks[Task]['gives']> {
    const core = await this.take(wants);
    try {
      return core === 'here' ? await CORE_WORK[task](given) : await this.order(task, given);
    } finally {
      // What the other thread has answered meanwhile is heard only between two turns of this one.
      if (core === 'here' && this.thread) await setImmediate();
      this.give(core);
    }
  }

  private order<Task extends CoreTask>(task: Task, given: CoreTasks[Task]['given']): Promise<CoreTasks[Task]['gives']> {
    const id = this.count++;
    const { geometry = null, ...others } = given as { geometry?: PlacedGeometry };
    const isHeld = geometry !== null && geometry === this.held;
    const order: CoreOrder = { id, task, given: others, geometry: isHeld ? 'held' : geometry };
    if (geometry) this.held = isHeld ? null : geometry;
    return new Promise((done, fail) => {
      this.orders.set(id, { done, fail });
      this.thread!.postMessage(order);
    });
  }

  /** Waits for a core, first come first served. */
  private take(wants: Core | null): Promise<Core> {
    const at = this.free.findIndex((core) => wants === null || core === wants);
    if (at >= 0) return Promise.resolve(this.free.splice(at, 1)[0]!);
    return new Promise((take) => this.waiting.push({ wants, take }));
  }

  private give(core: Core): void {
    const at = this.waiting.findIndex(({ wants }) => wants === null || wants === core);
    if (at >= 0) this.waiting.splice(at, 1)[0]!.take(core);
    else if (core === 'there') this.free.unshift(core);
    else this.free.push(core);
  }

  private giveUp(error: Error): void {
    for (const { fail } of this.orders.values()) fail(error);
    this.orders.clear();
  }
}
