import { setImmediate } from 'node:timers/promises';
import { parentPort } from 'node:worker_threads';
import { loadLibrary, Tessellator, type SharedFile, type ShownProducts } from './tessellate';

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

/** What the thread says: what products show as soon as there is some, and once all is there, which failed; null if the file makes no sense. */
export type TessellationAnswer = { shown: ShownProducts } | { failures: Map<number, string> | null };

let next: { file: SharedFile; done: Float64Array; loading: ReturnType<typeof loadLibrary> } | null = null;

parentPort!.on('message', async (word: TessellationWord) => {
  if ('file' in word) next = { file: word.file, done: new Float64Array(word.done), loading: loadLibrary() };
  else {
    await build(word.classes);
    // What the library held goes only when it is collected, and this thread may wait long for its next file.
    await setImmediate();
    globalThis.gc?.();
  }
});

async function build(classes: number[]): Promise<void> {
  const { file, done, loading } = next!;
  const open = Tessellator.open(await loading, file);
  const failures =
    open &&
    open.build(
      classes,
      (shown) => answer({ shown }, [...Object.values(shown.items), ...Object.values(shown.placements)]),
      (share) => void (done[0] = share),
    );
  open?.close();
  next = null;
  answer({ failures }, []);
}

function answer(given: TessellationAnswer, columns: { buffer: ArrayBufferLike }[]): void {
  parentPort!.postMessage(
    given,
    columns.map(({ buffer }) => buffer as ArrayBuffer),
  );
}
