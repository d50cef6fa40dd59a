import { setImmediate } from 'node:timers/promises';
import { parentPort } from 'node:worker_threads';
import { Pulse } from './pulse';
import { loadLibrary, Tessellator, type BuildOrder, type SharedFile, type ShownProducts } from './tessellate';

/**
 * What the thread hears: that there will be a file, so that it loads the library; then that its content is in memory, and
 * what is to be built of it.
 */
export type TessellationWord =
  | {
      file: SharedFile;
      /** @see Pulse */
      pulse: SharedArrayBuffer;
    }
  | { order: BuildOrder };

/** What the thread says: what products show as soon as there is some, and once all is there, whether the file made sense at all. */
export type TessellationAnswer = { shown: ShownProducts } | { madeSense: boolean };

let next: { file: SharedFile; pulse: Pulse; loading: ReturnType<typeof loadLibrary> } | null = null;

parentPort!.on('message', async (word: TessellationWord) => {
  if ('file' in word) next = { file: word.file, pulse: new Pulse(word.pulse), loading: loadLibrary() };
  else {
    await build(word.order);
    // What the library held goes only when it is collected, and this thread may wait long for its next file.
    await setImmediate();
    globalThis.gc?.();
  }
});

async function build(order: BuildOrder): Promise<void> {
  const { file, pulse, loading } = next!;
  const library = await loading;
  pulse.beat();
  const open = Tessellator.open(library, file);
  pulse.opened();
  open?.build(
    order,
    (shown) => answer({ shown }, [...Object.values(shown.items), ...Object.values(shown.placements)]),
    pulse,
  );
  open?.close();
  next = null;
  answer({ madeSense: open !== null }, []);
}

function answer(given: TessellationAnswer, columns: { buffer: ArrayBufferLike }[]): void {
  parentPort!.postMessage(
    given,
    columns.map(({ buffer }) => buffer as ArrayBuffer),
  );
}
