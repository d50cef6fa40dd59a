import type { Worker } from 'node:worker_threads';
import { startThread } from '../start-thread';
import type { SharedFile, Tessellation } from './tessellate';
import type { TessellationOrder, TessellationWord } from './tessellate-thread';

/** Bytes; the triangles of a smaller file are there sooner than a thread has started. */
const WORTH_A_THREAD = 3e6;
/** Milliseconds between two looks at how far the thread is. */
const LOOK = 100;

/**
 * The shapes of a file. Those of a large one are built by a thread of its own, which loads the library while the file is
 * read into memory, and opens it while its lines are read here. More threads gain nothing on two cores: each would have to
 * open the file for itself.
 */
export class Shapes {
  private readonly worker: Worker | null;
  private readonly answer: Promise<Tessellation | null> | null = null;
  private readonly done = new Int32Array(new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT));

  /** @param file as large as it will be, not yet with its content */
  constructor(private readonly file: SharedFile) {
    const isLarge = file.bytes.byteLength >= WORTH_A_THREAD;
    const order: TessellationOrder = { ...file, done: this.done.buffer as SharedArrayBuffer };
    const worker = isLarge ? startThread(import.meta.url, './tessellate-thread', order) : null;
    this.worker = worker;
    if (!worker) return;
    this.answer = new Promise((done, fail) => {
      worker.once('message', done);
      worker.once('error', fail);
      worker.once('exit', () => fail(new Error('the thread ended before it had built the shapes')));
    });
    // What goes wrong is told to whoever waits; until then nobody may.
    this.answer.catch(() => undefined);
  }

  /** Says that the file's content is there. */
  begin(): void {
    this.tell('open');
  }

  /**
   * @param products express ids of products that name a representation
   * @param onProgress share done, 0..1
   * @returns null if the library cannot make sense of the file
   */
  async build(products: number[], onProgress: (share: number) => void): Promise<Tessellation | null> {
    if (!this.answer) return this.buildHere(products, onProgress);
    this.tell(products);
    const look = setInterval(() => onProgress(Atomics.load(this.done, 0) / Math.max(1, products.length)), LOOK);
    try {
      return await this.answer;
    } finally {
      clearInterval(look);
    }
  }

  async end(): Promise<void> {
    await this.worker?.terminate();
  }

  private async buildHere(products: number[], onProgress: (share: number) => void): Promise<Tessellation | null> {
    const { loadLibrary, Tessellator } = await import('./tessellate');
    const tessellator = Tessellator.open(await loadLibrary(), this.file);
    try {
      return tessellator?.build(products, (count) => onProgress(count / products.length)) ?? null;
    } finally {
      tessellator?.close();
    }
  }

  private tell(word: TessellationWord): void {
    this.worker?.postMessage(word);
  }
}
