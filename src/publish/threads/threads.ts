import { setImmediate } from 'node:timers/promises';
import type { Worker } from 'node:worker_threads';
import type { ThreadAnswer, ThreadOrder } from './second-thread';
import { THREAD_TASKS, type ThreadTask, type ThreadTasks } from './thread-tasks';
import { handOver } from './transfer';

type Place = 'here' | 'there';

/** What waits for a core. */
interface Waiting {
  wants: Place | null;
  take: (place: Place) => void;
}

/** Orders that the other thread has at once: one in hand and the next, because its answer is heard only when this one pauses. */
const MOST_THERE = 2;

/**
 * The cores that publishing works on: this thread and, for a file that is worth it, one beside it. Each does one thing
 * at a time. What is handed over is copied, but for coordinates that lie in shared memory.
 */
export class Threads {
  private readonly orders = new Map<number, { done: (result: never) => void; fail: (error: Error) => void }>();
  private count = 0;
  private isBusyHere = false;
  /** Orders that the other thread has. */
  private there = 0;
  /** Those of them that nothing is put behind. */
  private long = 0;
  private readonly waiting: Waiting[] = [];

  /** @param thread another one that works here, by `second-thread`; null for none. Whoever started it ends it. */
  constructor(private readonly thread: Worker | null) {
    this.thread?.on('message', this.hear).on('error', this.giveUp).on('exit', this.lose);
  }

  /** Lets go of the thread, which may then work for others. */
  end(): void {
    this.thread?.off('message', this.hear).off('error', this.giveUp).off('exit', this.lose);
  }

  /** Does something long in the other thread if there is one, so that this one can go on meanwhile. */
  beside<Task extends ThreadTask>(task: Task, given: ThreadTasks[Task]['given']): Promise<ThreadTasks[Task]['gives']> {
    return this.run(task, given, this.thread ? 'there' : 'here');
  }

  /** Does something in whichever thread is free first. */
  anywhere<Task extends ThreadTask>(
    task: Task,
    given: ThreadTasks[Task]['given'],
  ): Promise<ThreadTasks[Task]['gives']> {
    return this.run(task, given, null);
  }

  private async run<Task extends ThreadTask>(
    task: Task,
    given: ThreadTasks[Task]['given'],
    wants: Place | null,
  ): Promise<ThreadTasks[Task]['gives']> {
    const place = await this.take(wants);
    try {
      return place === 'here' ? await THREAD_TASKS[task](given) : await this.order(task, given);
    } finally {
      // What the other thread has answered meanwhile is heard only between two turns of this one.
      if (place === 'here' && this.thread) await setImmediate();
      this.give(place, wants);
    }
  }

  private order<Task extends ThreadTask>(
    task: Task,
    given: ThreadTasks[Task]['given'],
  ): Promise<ThreadTasks[Task]['gives']> {
    const id = this.count++;
    const order: ThreadOrder = { id, task, given: handOver(given) };
    return new Promise((done, fail) => {
      this.orders.set(id, { done, fail });
      this.thread!.postMessage(order);
    });
  }

  /** Waits for a core, first come first served. */
  private take(wants: Place | null): Promise<Place> {
    return new Promise((take) => {
      this.waiting.push({ wants, take });
      this.handOut();
    });
  }

  private give(place: Place, wanted: Place | null): void {
    if (place === 'here') this.isBusyHere = false;
    else {
      this.there--;
      if (wanted === 'there') this.long--;
    }
    this.handOut();
  }

  private handOut(): void {
    for (let i = 0; i < this.waiting.length;) {
      const { wants, take } = this.waiting[i]!;
      const place = this.freeThread(wants);
      if (!place) {
        i++;
        continue;
      }
      this.waiting.splice(i, 1);
      if (place === 'here') this.isBusyHere = true;
      else {
        this.there++;
        if (wants === 'there') this.long++;
      }
      take(place);
    }
  }

  private freeThread(wants: Place | null): Place | null {
    const isFreeHere = wants !== 'there' && !this.isBusyHere;
    const mayGoThere = wants !== 'here' && this.thread !== null && this.there < MOST_THERE;
    // The other thread first: this one then goes on. What may be done here as well does not wait behind what takes long.
    if (mayGoThere && (wants === 'there' || this.there === 0)) return 'there';
    if (isFreeHere) return 'here';
    return mayGoThere && this.long === 0 ? 'there' : null;
  }

  private readonly hear = (answer: ThreadAnswer): void => {
    const order = this.orders.get(answer.id);
    this.orders.delete(answer.id);
    if ('error' in answer) order?.fail(answer.error);
    else order?.done(answer.result as never);
  };

  private readonly giveUp = (error: Error): void => {
    for (const { fail } of this.orders.values()) fail(error);
    this.orders.clear();
  };

  private readonly lose = (): void => this.giveUp(new Error('the second thread ended before its work'));
}
