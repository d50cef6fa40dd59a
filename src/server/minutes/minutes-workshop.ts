import { once } from 'node:events';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { RestingThread } from '@/formats/resting-thread';
import { startThread } from '@/formats/start-thread';
import { Problem } from '../problems';
import type { MinutesContent } from './minutes-content';
import type { MinutesOrder, WrittenMinutes } from './minutes-thread';

/** Longer than minutes of thousands of comments with pictures take. */
const PATIENCE_MS = 120_000;
/** More than wait for their turn when a whole team opens its minutes. */
const MOST_WAITING = 40;

const threads = new RestingThread(() => startThread(threadsFolder(), './minutes-thread'));
let tail: Promise<unknown> = Promise.resolve();
let waiting = 0;

/**
 * Has minutes written by a thread of their own, one after the other, so that however many are asked for, whoever else is served
 * by this process does not wait and memory holds one of them.
 *
 * @param collect gets what they hold when it is their turn
 * @param moments address to which the number of a moment is added
 * @throws Problem 503 where many wait already, Error where they cannot be written
 */
export async function writeBeside(collect: () => Promise<MinutesContent>, moments: string): Promise<Buffer> {
  if (waiting >= MOST_WAITING)
    throw new Problem(503, 'Many minutes are being written just now. Try again in a moment.');
  waiting++;
  const written = tail.then(async () => write({ content: await collect(), moments })).finally(() => waiting--);
  tail = written.catch(() => undefined);
  return written;
}

async function write(order: MinutesOrder): Promise<Buffer> {
  const thread = threads.take();
  const signal = AbortSignal.timeout(PATIENCE_MS);
  let hasAnswered = false;
  try {
    thread.postMessage(order);
    // Rejects with what the thread throws.
    const [answer] = (await once(thread, 'message', { signal })) as [WrittenMinutes];
    hasAnswered = true;
    if ('error' in answer) throw new Error(answer.error);
    return Buffer.from(answer.pdf);
  } finally {
    await threads.giveBack(thread, hasAnswered);
  }
}

/** Address of a module beside which the thread lies: bundled by the start command, or among the sources. */
function threadsFolder(): string {
  const { YURTA_SERVER, YURTA_HOME } = process.env;
  if (YURTA_SERVER) return pathToFileURL(join(YURTA_SERVER, 'worker.mjs')).href;
  return pathToFileURL(join(YURTA_HOME ?? process.cwd(), 'src', 'server', 'minutes', 'minutes-workshop.ts')).href;
}
