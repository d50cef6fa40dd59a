import { parentPort } from 'node:worker_threads';
import { loadLibrary, Tessellator, type ItemTriangles, type SharedFile, type Tessellation } from './tessellate';

/**
 * What the thread hears: that there will be a file, so that it loads the library; then that its content is in memory, and
 * the classes whose products are to be built.
 */
export type TessellationWord =
  | {
      file: SharedFile;
      /** One number of double precision: the share done, 0..1. */
      done: SharedArrayBuffer;
    }
  | { classes: number[] };

/** What the thread says: triangles as soon as there are some, and where they show once all are there; null if the file makes no sense. */
export type TessellationAnswer = { items: ItemTriangles } | { built: Tessellation | null };

let next: { file: SharedFile; done: Float64Array; loading: ReturnType<typeof loadLibrary> } | null = null;

parentPort!.on('message', async (word: TessellationWord) => {
  if ('file' in word) next = { file: word.file, done: new Float64Array(word.done), loading: loadLibrary() };
  else await build(word.classes);
});

async function build(classes: number[]): Promise<void> {
  const { file, done, loading } = next!;
  const open = Tessellator.open(await loading, file);
  const built =
    open &&
    open.build(
      classes,
      (items) => answer({ items }, Object.values(items)),
      (share) => void (done[0] = share),
    );
  open?.close();
  next = null;
  answer({ built }, built ? Object.values(built.placements) : []);
}

function answer(given: TessellationAnswer, columns: { buffer: ArrayBufferLike }[]): void {
  parentPort!.postMessage(
    given,
    columns.map(({ buffer }) => buffer as ArrayBuffer),
  );
}
