import type { Worker } from 'node:worker_threads';
import type { Geometry } from '../building-model';
import { holdCompiledLibrary } from './compiled-library';
import { RestingThread } from '../resting-thread';
import { startThread } from '../start-thread';
import type { PlacementColumns } from './placements';
import type { SharedFile, ShownProducts } from './tessellate';
import type { TessellationAnswer, TessellationWord } from './tessellate-thread';

/** Bytes; the triangles of a smaller file are there sooner than a thread has started. */
const WORTH_A_THREAD = 3e6;
/** Bytes; the thread of a larger file ends with it, because the library hands no memory back. */
const WORTH_KEEPING = 40e6;
/** Milliseconds between two looks at how far the thread is. */
const LOOK = 100;

const builders = new RestingThread(() => startThread(import.meta.url, './tessellate-thread'));

export interface ShapeOptions {
  /** Share done, 0..1. */
  onProgress: (share: number) => void;
  /** Takes shapes while others are still being built. */
  onShapes: (shapes: Geometry[]) => void;
  /** Takes where those show that are there. */
  onPlacements: (placements: PlacementColumns) => void;
}

/**
 * The shapes of a file. Those of a large one are built by a thread of its own, which loads the library while the file is
 * read into memory, and opens it while its lines are read here. More threads gain nothing on two cores: each would have to
 * open the file for itself.
 */
export class Shapes {
  private readonly worker: Worker | null = null;
  private readonly answer: Promise<Map<number, string> | null> | null = null;
  private readonly done = new Float64Array(new SharedArrayBuffer(Float64Array.BYTES_PER_ELEMENT));
  /** By express id of the item, as far as they are there; none where it has no usable surface. */
  readonly geometries = new Map<number, Geometry>();
  private options: ShapeOptions | null = null;
  /** Handed over before anybody asked for them. */
  private early: ShownProducts[] = [];
  private classes: number[] = [];
  private isDone = false;

  /** @param file as large as it will be, not yet with its content */
  constructor(private readonly file: SharedFile) {
    if (file.bytes.byteLength < WORTH_A_THREAD) return;
    const worker = builders.take();
    this.worker = worker;
    this.answer = new Promise((done, fail) => {
      worker.on('message', (said: TessellationAnswer) => {
        if ('shown' in said) return this.take(said.shown);
        this.isDone = true;
        done(said.failures);
      });
      worker.once('error', fail);
      worker.once('exit', () => fail(new Error('the thread ended before it had built the shapes')));
    });
    // What goes wrong is told to whoever waits; until then nobody may.
    this.answer.catch(() => undefined);
    this.tell({ file, done: this.done.buffer as SharedArrayBuffer });
  }

  /** Says that the file's content is there, and of which classes products are to be built. */
  begin(classes: number[]): void {
    this.classes = classes;
    this.tell({ classes });
  }

  /**
   * @returns express id -> reason, of products whose shape cannot be built; null if the library cannot make sense of the
   *   file
   */
  async build(options: ShapeOptions): Promise<Map<number, string> | null> {
    this.options = options;
    for (const shown of this.early.splice(0)) this.take(shown);
    if (!this.answer) return this.buildHere(options.onProgress);
    const look = setInterval(() => options.onProgress(this.done[0]!), LOOK);
    try {
      const failures = await this.answer;
      await holdCompiledLibrary();
      return failures;
    } finally {
      clearInterval(look);
    }
  }

  /** Lets the thread go: it may wait for the next file, if it has nothing more to do. */
  async end(): Promise<void> {
    const { worker } = this;
    if (!worker) return;
    for (const event of ['message', 'error', 'exit']) worker.removeAllListeners(event);
    await builders.giveBack(worker, this.isDone && this.file.bytes.byteLength <= WORTH_KEEPING);
  }

  private async buildHere(onProgress: (share: number) => void): Promise<Map<number, string> | null> {
    const { loadLibrary, Tessellator } = await import('./tessellate');
    const tessellator = Tessellator.open(await loadLibrary(), this.file);
    try {
      const failures = tessellator?.build(this.classes, (shown) => this.take(shown), onProgress);
      await holdCompiledLibrary();
      return failures ?? null;
    } finally {
      tessellator?.close();
    }
  }

  private take(shown: ShownProducts): void {
    if (!this.options) return void this.early.push(shown);
    const { id, positions, positionsTo, indices, indicesTo } = shown.items;
    const from = (to: Uint32Array, row: number) => (row === 0 ? 0 : to[row - 1]!);
    const shapes = Array.from(id, (item, row): Geometry => {
      const geometry = {
        positions: positions.subarray(from(positionsTo, row), positionsTo[row]),
        indices: indices.subarray(from(indicesTo, row), indicesTo[row]),
      };
      this.geometries.set(item, geometry);
      return geometry;
    });
    this.options.onShapes(shapes);
    this.options.onPlacements(shown.placements);
  }

  private tell(word: TessellationWord): void {
    this.worker?.postMessage(word);
  }
}
