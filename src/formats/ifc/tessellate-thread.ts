import { parentPort, workerData } from 'node:worker_threads';
import { Tessellator, type SharedFile } from './tessellate';

/** What the thread is started with; it opens the file at once and begins when it is told of which products. */
export interface TessellationOrder extends SharedFile {
  /** One number: how many products are done. */
  done: SharedArrayBuffer;
}

const order = workerData as TessellationOrder;
const done = new Int32Array(order.done);
const tessellator = await Tessellator.open(order);
parentPort!.once('message', (products: number[]) => {
  const result = tessellator && tessellator.build(products, (count) => Atomics.store(done, 0, count));
  tessellator?.close();
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
});
