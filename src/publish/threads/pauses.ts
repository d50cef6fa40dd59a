import { setImmediate } from 'node:timers/promises';

/** Milliseconds. */
const OFTEN = 30;

/** Pauses in long work, in which this thread hears what another has done, and gives it the next thing to do. */
export class Pauses {
  private last = performance.now();

  /** Whether the last was long enough ago. */
  get areDue(): boolean {
    return performance.now() - this.last > OFTEN;
  }

  async pause(): Promise<void> {
    await setImmediate();
    this.last = performance.now();
  }
}
