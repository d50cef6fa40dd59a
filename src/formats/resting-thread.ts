import type { Worker } from 'node:worker_threads';

/** A thread that has worked on one file and waits for the next: what it has compiled stays. One of a kind rests at most. */
export class RestingThread {
  private resting: Worker | null = null;

  constructor(private readonly start: () => Worker) {}

  /** The one that rests, or a new one. */
  take(): Worker {
    const worker = this.resting ?? this.start();
    worker.off('exit', this.forget);
    worker.ref();
    this.resting = null;
    return worker;
  }

  /** @param mayRest whether it has nothing more to do, and is worth keeping; otherwise it ends */
  async giveBack(worker: Worker, mayRest: boolean): Promise<void> {
    if (!mayRest || this.resting) {
      await worker.terminate();
      return;
    }
    this.resting = worker;
    worker.once('exit', this.forget);
    worker.unref();
  }

  private readonly forget = (): void => {
    this.resting = null;
  };
}
