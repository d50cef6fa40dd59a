import { parentPort } from 'node:worker_threads';
import type { MinutesContent } from './minutes-content';
import { writeMinutes } from './write-minutes';

/** What the thread is asked for. */
export interface MinutesOrder {
  content: MinutesContent;
  /** Address to which the number of a moment is added. */
  moments: string;
}

/** The minutes as PDF, or why they could not be written. */
export type WrittenMinutes = { pdf: Uint8Array } | { error: string };

/** Sets minutes beside the process that serves people: a long meeting takes seconds of pure computing. */
parentPort!.on('message', ({ content, moments }: MinutesOrder) => {
  writeMinutes(content, (seq) => `${moments}${seq}`).then(
    (pdf) => answer({ pdf }),
    (error: unknown) => answer({ error: error instanceof Error ? (error.stack ?? error.message) : String(error) }),
  );
});

function answer(written: WrittenMinutes): void {
  parentPort!.postMessage(written);
}
