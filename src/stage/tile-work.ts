import type { TileResult, TileTask } from './tile-worker';

/** Hands tile tasks to one background worker and gives back promises. */
export class TileWork {
  private readonly worker = new Worker(new URL('./tile-worker.ts', import.meta.url), { type: 'module' });
  private readonly waiting = new Map<number, (result: TileResult) => void>();
  private next = 0;

  constructor() {
    this.worker.onmessage = ({ data }: MessageEvent<TileResult>) => {
      this.waiting.get(data.id)?.(data);
      this.waiting.delete(data.id);
    };
  }

  /** Takes the arrays over; pass copies of what is still needed. */
  run(given: Omit<TileTask, 'id'>): Promise<TileResult> {
    const task: TileTask = { id: this.next++, ...given };
    return new Promise((done) => {
      this.waiting.set(task.id, done);
      const { positions, indices, elements } = given;
      this.worker.postMessage(
        task,
        [positions, indices, elements].map((array) => array.buffer as ArrayBuffer),
      );
    });
  }

  dispose(): void {
    this.worker.terminate();
    this.waiting.clear();
  }
}
