import { parentPort, workerData } from 'node:worker_threads';
import { loadLibrary, Tessellator, type ItemTriangles, type SharedFile, type Tessellation } from './tessellate';

/** What the thread is started with. It loads the library, and goes on when it hears that the file is in memory, then of which products. */
export interface TessellationOrder extends SharedFile {
  /** One number: how many products are done. */
  done: SharedArrayBuffer;
}

/** What the thread hears: first that the file is in memory, then express ids of the products to build. */
export type TessellationWord = 'open' | number[];

/** What the thread says: triangles as soon as there are some, and where they show once all are there; null if the file makes no sense. */
export type TessellationAnswer = { items: ItemTriangles } | { built: Tessellation | null };

const order = workerData as TessellationOrder;
const done = new Int32Array(order.done);
const loading = loadLibrary();
let tessellator: Promise<Tessellator | null> | null = null;
parentPort!.on('message', async (word: TessellationWord) => {
  if (word === 'open') tessellator = loading.then((api) => Tessellator.open(api, order));
  else await build(word);
});

async function build(products: number[]): Promise<void> {
  const open = await tessellator;
  const built =
    open &&
    open.build(
      products,
      (items) => answer({ items }, Object.values(items)),
      (count) => Atomics.store(done, 0, count),
    );
  open?.close();
  answer({ built }, built ? Object.values(built.placements) : []);
}

function answer(given: TessellationAnswer, columns: { buffer: ArrayBufferLike }[]): void {
  parentPort!.postMessage(
    given,
    columns.map(({ buffer }) => buffer as ArrayBuffer),
  );
}
