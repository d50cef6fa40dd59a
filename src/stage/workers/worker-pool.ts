import type { AnswerMessage, TaskMessage } from './page-worker';
import type { TaskName, Tasks } from './tasks';

/** As much of a worker as the pool uses. */
export type PoolWorker = Pick<Worker, 'postMessage' | 'terminate' | 'onmessage' | 'onerror' | 'onmessageerror'>;

export interface TaskOptions {
  /** Of tasks that wait, the one with the highest is next; 0 where nothing is said. */
  priority?: number;
  /** Buffers that are handed over instead of being copied. */
  transfer?: Transferable[];
  /** Ends the task: one that waits is not begun, the worker of one that runs is stopped. */
  signal?: AbortSignal;
}

interface Job {
  message: TaskMessage;
  options: TaskOptions;
  done: (output: never) => void;
  fail: (error: Error) => void;
}

interface Seat {
  worker: PoolWorker | null;
  /** What the worker was given, in its order. */
  jobs: Job[];
}

/** So many tasks are given to a worker ahead, so that it does not wait for a page that is busy drawing. */
const AHEAD = 6;

/**
 * Background workers of the page. Workers are started when there is work for them; one that breaks down is replaced, and its
 * task fails with a reason.
 */
export class WorkerPool {
  private readonly seats: Seat[];
  private readonly queue: Job[] = [];
  private next = 0;

  /** @param start makes a worker @param size how many tasks go on at once */
  constructor(
    private readonly start: () => PoolWorker = startPageWorker,
    size = Math.min(3, Math.max(1, navigator.hardwareConcurrency - 1)),
  ) {
    this.seats = Array.from({ length: size }, () => ({ worker: null, jobs: [] }));
  }

  /**
   * @returns the task's output
   * @throws Error with what went wrong in the worker; an AbortError if it was cancelled
   */
  run<Name extends TaskName>(name: Name, input: Tasks[Name][0], options: TaskOptions = {}): Promise<Tasks[Name][1]> {
    return new Promise<Tasks[Name][1]>((done, fail) => {
      if (options.signal?.aborted) return fail(cancelled());
      const job: Job = { message: { id: this.next++, name, input }, options, done, fail };
      options.signal?.addEventListener('abort', () => this.cancel(job), { once: true });
      const { priority = 0 } = options;
      const at = this.queue.findIndex((other) => (other.options.priority ?? 0) < priority);
      this.queue.splice(at < 0 ? this.queue.length : at, 0, job);
      this.serve();
    });
  }

  dispose(): void {
    for (const seat of this.seats) this.dismiss(seat, cancelled());
    for (const job of this.queue.splice(0)) job.fail(cancelled());
  }

  private serve(): void {
    while (this.queue.length > 0) {
      // The one with the least to do; of several, one that is there already.
      const [seat] = [...this.seats].sort(
        (a, b) => a.jobs.length - b.jobs.length || Number(b.worker !== null) - Number(a.worker !== null),
      );
      if (!seat || seat.jobs.length >= AHEAD) return;
      const job = this.queue.shift()!;
      seat.jobs.push(job);
      try {
        seat.worker ??= this.hire(seat);
        seat.worker.postMessage(job.message, job.options.transfer ?? []);
      } catch (error) {
        seat.jobs.pop();
        job.fail(error instanceof Error ? error : new Error(String(error)));
      }
    }
  }

  private hire(seat: Seat): PoolWorker {
    const worker = this.start();
    worker.onmessage = ({ data }: MessageEvent<AnswerMessage>) => {
      const at = seat.jobs.findIndex(({ message }) => message.id === data.id);
      if (at < 0) return;
      const [job] = seat.jobs.splice(at, 1) as [Job];
      if ('error' in data) job.fail(new Error(data.error));
      else job.done(data.output as never);
      this.serve();
    };
    const breakDown = (reason: string) => {
      if (seat.worker !== worker) return;
      this.dismiss(seat, new Error(reason));
      this.serve();
    };
    worker.onerror = (event) => breakDown(event.message || 'A background worker broke down.');
    worker.onmessageerror = () => breakDown('The answer of a background worker could not be read.');
    return worker;
  }

  private cancel(job: Job): void {
    job.fail(cancelled());
    const at = this.queue.indexOf(job);
    if (at >= 0) this.queue.splice(at, 1);
    const seat = this.seats.find(({ jobs }) => jobs.includes(job));
    // A worker with nothing else to do is stopped; one that has more goes on, and the answer is dropped.
    if (seat?.jobs.length === 1) {
      this.dismiss(seat, cancelled());
      this.serve();
    }
  }

  /** Ends a worker; all that it was given fails. */
  private dismiss(seat: Seat, error: Error): void {
    seat.worker?.terminate();
    seat.worker = null;
    for (const job of seat.jobs.splice(0)) job.fail(error);
  }
}

function startPageWorker(): PoolWorker {
  return new Worker(new URL('./page-worker.ts', import.meta.url), { type: 'module' });
}

function cancelled(): Error {
  return new DOMException('The task was cancelled.', 'AbortError');
}
