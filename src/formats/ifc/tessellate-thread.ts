import { parentPort, workerData } from 'node:worker_threads';
import { loadLibrary, Tessellator, type SharedFile } from './tessellate';

/** What the thread is started with. It loads the library, and goes on when it hears that the file is in memory, then of which products. */
export interface TessellationOrder extends SharedFile {
  /** One number: how many products are done. */
  done: SharedArrayBuffer;
}

/** What the thread hears: first that the file is in memory, then express ids of the products to build. */
export type TessellationWord = 'open' | number[];

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
  const result = open && open.build(products, (count) => Atomics.store(done, 0, count));
  open?.close();
  const columns = result && [
    ...Object.values(result.placements),
    ...Object.values(result.items),
    result.positions,
    result.indices,
  ];
  parentPort!.postMessage(
    result,
    columns?.map((column) => column.buffer as ArrayBuffer),
  );
}
