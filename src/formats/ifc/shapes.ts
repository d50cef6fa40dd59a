import type { Worker } from 'node:worker_threads';
import type { Geometry } from '../building-model';
import { holdCompiledLibrary } from './compiled-library';
import { RestingThread } from '../resting-thread';
import { startThread } from '../start-thread';
import type { PlacementColumns } from './placements';
import { Pulse } from './pulse';
import { failedOn } from './product-failure';
import type { BuildOrder, SharedFile, ShownProducts } from './tessellate';
import type { TessellationAnswer, TessellationWord } from './tessellate-thread';

/** Bytes; the thread of a larger file ends with it, because the library hands no memory back. */
const WORTH_KEEPING = 40e6;
/** Milliseconds between two looks at how far the thread is. */
const LOOK = 100;
/**
 * Milliseconds without any progress after which a product counts as one that the library never comes to an end with: in a
 * damaged file, some of its loops have none. Opening takes it some seconds for every 100 MB. With every such product of a
 * file there are likelier to be more, and patience halves, down to a share.
 */
const PATIENCE = { atLeast: 30_000, aMegabyte: 500, leastShare: 1 / 16 };
/** So many such products, and none that shows: the file is damaged in what all of them share. */
const HOPELESS = 3;

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
 * The shapes of a file, built by a thread of its own, which loads the library while the file is read into memory, and
 * opens it while its lines are read here. More threads gain nothing on two cores: each would have to open the file for
 * itself. Where the library comes to no end with a product or breaks down at it, another thread goes on without that one.
 */
export class Shapes {
  /** By express id of the item, as far as they are there; none where it has no usable surface. */
  readonly geometries = new Map<number, Geometry>();
  /** Express id -> reason, of products whose shape cannot be built, as far as is known. */
  private readonly failures = new Map<number, string>();
  private readonly answer: Promise<boolean>;
  private resolve!: (madeSense: boolean) => void;
  private reject!: (error: Error) => void;
  private readonly patience: number;
  private order: BuildOrder = { classes: [], from: 0, without: [], oneByOne: false };
  private pulse = new Pulse();
  private worker: Worker;
  private options: ShapeOptions | null = null;
  /** Handed over before anybody asked for them. */
  private early: ShownProducts[] = [];
  private isDone = false;
  private lastBeat = { beats: -1, at: 0 };

  /**
   * @param file as large as it will be, not yet with its content
   * @param patience milliseconds without progress after which a product is left out
   */
  constructor(
    private readonly file: SharedFile,
    patience = PATIENCE.atLeast + (file.bytes.byteLength / 1e6) * PATIENCE.aMegabyte,
  ) {
    this.patience = patience;
    this.answer = new Promise((resolve, reject) => {
      this.resolve = resolve;
      this.reject = reject;
    });
    // What goes wrong is told to whoever waits; until then nobody may.
    this.answer.catch(() => undefined);
    this.worker = this.start();
  }

  /** Says that the file's content is there, and of which classes products are to be built. */
  begin(classes: number[]): void {
    this.order = { ...this.order, classes };
    this.tell({ order: this.order });
  }

  /**
   * @returns express id -> reason, of products whose shape cannot be built; null if the library cannot make sense of the
   *   file
   */
  async build(options: ShapeOptions): Promise<ReadonlyMap<number, string> | null> {
    this.options = options;
    for (const shown of this.early.splice(0)) this.take(shown);
    const look = setInterval(() => {
      options.onProgress(this.pulse.share);
      if (this.isStuck()) void this.goOn('the reader came to no end with its shape, which is damaged');
    }, LOOK);
    try {
      const madeSense = await this.answer;
      await holdCompiledLibrary();
      return madeSense ? this.failures : null;
    } finally {
      clearInterval(look);
    }
  }

  /** Lets the thread go: it may wait for the next file, if it has nothing more to do. */
  async end(): Promise<void> {
    this.deafen();
    await builders.giveBack(this.worker, this.isDone && this.file.bytes.byteLength <= WORTH_KEEPING);
  }

  private start(): Worker {
    const worker = builders.take();
    worker.on('message', (said: TessellationAnswer) => {
      if ('shown' in said) return this.hear(said.shown);
      this.isDone = true;
      this.resolve(said.madeSense);
    });
    worker.once('error', (error: Error) => this.failed(error));
    worker.once('exit', () => this.reject(new Error('the thread ended before it had built the shapes')));
    this.worker = worker;
    this.pulse = new Pulse();
    this.tell({ file: this.file, pulse: this.pulse.memory });
    return worker;
  }

  private isStuck(): boolean {
    const { beats } = this.pulse;
    const now = Date.now();
    if (beats !== this.lastBeat.beats) this.lastBeat = { beats, at: now };
    const share = this.pulse.isOpen ? Math.max(2 ** -this.order.without.length, PATIENCE.leastShare) : 1;
    return !this.isDone && beats > 0 && now - this.lastBeat.at > this.patience * share;
  }

  /** What became of the thread: where the library broke down at a product, another goes on without that. */
  private failed(error: Error): void {
    // An error of a thread comes as a copy that has lost its class.
    if (error.name === 'RuntimeError' && this.pulse.isOpen) void this.goOn(failedOn(error));
    else this.reject(error);
  }

  /** Leaves out the product that the library was at; where that is one of several, the next thread tells which. */
  private async goOn(reason: string): Promise<void> {
    const { product, isOpen } = this.pulse;
    this.lastBeat = { beats: -1, at: Date.now() };
    const { without, oneByOne } = this.order;
    const isHopeless = without.length >= HOPELESS && this.geometries.size === 0;
    // Asked for one at a time and at none of them, it would be no better the next time.
    if (!isOpen || isHopeless || (oneByOne && product === 0)) return this.resolve(false);
    this.deafen();
    await this.worker.terminate();
    if (product > 0) this.failures.set(product, reason);
    this.order = { ...this.order, without: product > 0 ? [...without, product] : without, oneByOne: true };
    this.start();
    this.tell({ order: this.order });
  }

  private hear(shown: ShownProducts): void {
    this.order = { ...this.order, from: shown.until };
    for (const [product, reason] of shown.failures) this.failures.set(product, reason);
    this.take(shown);
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

  private deafen(): void {
    for (const event of ['message', 'error', 'exit']) this.worker.removeAllListeners(event);
  }

  private tell(word: TessellationWord): void {
    this.worker.postMessage(word);
  }
}
