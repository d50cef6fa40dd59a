import type { Worker } from 'node:worker_threads';
import type { Geometry } from '../building-model';
import { holdCompiledLibrary } from './compiled-library';
import { startThread } from '../start-thread';
import type { ItemTriangles, SharedFile, Tessellation } from './tessellate';
import type { TessellationAnswer, TessellationOrder, TessellationWord } from './tessellate-thread';

/** Bytes; the triangles of a smaller file are there sooner than a thread has started. */
const WORTH_A_THREAD = 3e6;
/** Milliseconds between two looks at how far the thread is. */
const LOOK = 100;

/** What the products of a file show. */
export interface BuiltShapes extends Tessellation {
  /** By express id of the item; none where it has no usable surface. */
  geometries: Map<number, Geometry>;
}

export interface ShapeOptions {
  /** Share done, 0..1. */
  onProgress: (share: number) => void;
  /** Takes shapes while others are still being built. */
  onShapes: (shapes: Geometry[]) => void;
}

/**
 * The shapes of a file. Those of a large one are built by a thread of its own, which loads the library while the file is
 * read into memory, and opens it while its lines are read here. More threads gain nothing on two cores: each would have to
 * open the file for itself.
 */
export class Shapes {
  private readonly worker: Worker | null;
  private readonly answer: Promise<Tessellation | null> | null = null;
  private readonly done = new Int32Array(new SharedArrayBuffer(Int32Array.BYTES_PER_ELEMENT));
  private readonly geometries = new Map<number, Geometry>();
  private onShapes: ShapeOptions['onShapes'] = () => undefined;

  /** @param file as large as it will be, not yet with its content */
  constructor(private readonly file: SharedFile) {
    const isLarge = file.bytes.byteLength >= WORTH_A_THREAD;
    const order: TessellationOrder = { ...file, done: this.done.buffer as SharedArrayBuffer };
    const worker = isLarge ? startThread(import.meta.url, './tessellate-thread', order) : null;
    this.worker = worker;
    if (!worker) return;
    this.answer = new Promise((done, fail) => {
      worker.on('message', (said: TessellationAnswer) => {
        if ('items' in said) this.take(said.items);
        else done(said.built);
      });
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
   * @returns null if the library cannot make sense of the file
   */
  async build(products: number[], { onProgress, onShapes }: ShapeOptions): Promise<BuiltShapes | null> {
    this.onShapes = onShapes;
    if (!this.answer) return this.withGeometries(await this.buildHere(products, onProgress));
    this.tell(products);
    const look = setInterval(() => onProgress(Atomics.load(this.done, 0) / Math.max(1, products.length)), LOOK);
    try {
      const built = await this.answer;
      await holdCompiledLibrary();
      return this.withGeometries(built);
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
      const built = tessellator?.build(
        products,
        (items) => this.take(items),
        (count) => onProgress(count / products.length),
      );
      await holdCompiledLibrary();
      return built ?? null;
    } finally {
      tessellator?.close();
    }
  }

  private take({ id, positions, positionsTo, indices, indicesTo }: ItemTriangles): void {
    const from = (to: Uint32Array, row: number) => (row === 0 ? 0 : to[row - 1]!);
    const shapes = Array.from(id, (item, row): Geometry => {
      const geometry = {
        positions: positions.subarray(from(positionsTo, row), positionsTo[row]),
        indices: indices.subarray(from(indicesTo, row), indicesTo[row]),
      };
      this.geometries.set(item, geometry);
      return geometry;
    });
    this.onShapes(shapes);
  }

  private withGeometries(built: Tessellation | null): BuiltShapes | null {
    return built && { ...built, geometries: this.geometries };
  }

  private tell(word: TessellationWord): void {
    this.worker?.postMessage(word);
  }
}
