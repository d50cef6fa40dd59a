import { createHmac } from 'node:crypto';
import { setTimeout as pause } from 'node:timers/promises';
import type { Shelf, ShelfFile, Subscription } from './shelf';

/** Pauses before each try, in milliseconds. */
const TRIES = [0, 1000, 5000, 30_000];
const PATIENCE_MS = 10_000;

/**
 * Tells all who subscribed to a file of its newest version: a POST whose header `Store-Signature` holds `t=` the time in
 * seconds and `v1=` the HMAC-SHA256, in hex, of that time, a dot and the body, under the subscription's secret. Tries
 * again where nobody answers; an answer of 410 ends the subscription.
 */
export async function announce(shelf: Shelf, file: ShelfFile): Promise<void> {
  const version = file.versions.at(-1)!;
  const body = JSON.stringify({ type: 'file.version', file: file.id, version: version.number });
  await Promise.all(shelf.subscriptionsTo(file.id).map((subscription) => deliver(shelf, subscription, body)));
}

async function deliver(shelf: Shelf, { id, address, secret }: Subscription, body: string): Promise<void> {
  for (const wait of TRIES) {
    await pause(wait, undefined, { ref: false });
    const time = Math.floor(Date.now() / 1000);
    const signature = createHmac('sha256', secret).update(`${time}.${body}`).digest('hex');
    try {
      const { status } = await fetch(address, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json', 'Store-Signature': `t=${time},v1=${signature}` },
        body,
        signal: AbortSignal.timeout(PATIENCE_MS),
      });
      if (status === 410) await shelf.unsubscribe(id);
      if (status < 500) return;
    } catch (error) {
      process.stderr.write(
        `notice to ${address} not delivered: ${error instanceof Error ? error.message : 'unknown'}\n`,
      );
    }
  }
}
