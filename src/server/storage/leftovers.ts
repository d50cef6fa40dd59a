import { and, eq, inArray, lte } from 'drizzle-orm';
import { db, type Transaction } from '@/db/database';
import { storeLeftovers } from '@/db/schema';
import { storage } from './storage';

// A store and the database have no transaction in common. So a key is written down before its files come, and struck out
// in the transaction that makes a revision hold it. What goes wrong in between, or a process that is killed, leaves the key
// here, and its files are removed once it is due.

/** Storing takes no longer than this, in milliseconds. */
const STORING_MS = 24 * 60 * 60 * 1000;
/** What could not be removed is tried again after so long. */
const AGAIN_MS = 60 * 1000;
/** Keys that are removed in one go. */
const AT_ONCE = 20;

/** Writes down that files are about to be stored under a key. */
export async function announceKey(key: string): Promise<void> {
  await db()
    .insert(storeLeftovers)
    .values({ key, dueAt: new Date(Date.now() + STORING_MS) });
}

/** Strikes a key out that a revision holds from now on. Returns false if its files were given up meanwhile. */
export async function holdKey(tx: Transaction, key: string): Promise<boolean> {
  const held = await tx
    .delete(storeLeftovers)
    .where(and(eq(storeLeftovers.key, key), eq(storeLeftovers.isGivenUp, false)))
    .returning();
  return held.length > 0;
}

/** Gives up a key that was announced: its files are removed soon. One that is held by now stays. */
export async function giveUpKey(key: string): Promise<void> {
  await db().update(storeLeftovers).set({ dueAt: new Date(), isGivenUp: true }).where(eq(storeLeftovers.key, key));
}

/** Has files removed soon that a revision has held so far. */
export async function letGoOfKeys(tx: Transaction, keys: string[]): Promise<void> {
  await tx.insert(storeLeftovers).values(keys.map((key) => ({ key, dueAt: new Date(), isGivenUp: true })));
}

/**
 * Removes what is due. Each key goes to one worker; where it does not come to an end, the key is due again later.
 *
 * @returns how many keys went
 * @throws whatever the store says that cannot be reached
 */
export async function removeLeftovers(now = Date.now()): Promise<number> {
  const due = await db()
    .select()
    .from(storeLeftovers)
    .where(lte(storeLeftovers.dueAt, new Date(now)))
    .limit(AT_ONCE);
  if (due.length === 0) return 0;
  const claimed = await db()
    .update(storeLeftovers)
    .set({ dueAt: new Date(now + AGAIN_MS), isGivenUp: true })
    .where(
      and(
        inArray(
          storeLeftovers.key,
          due.map(({ key }) => key),
        ),
        lte(storeLeftovers.dueAt, new Date(now)),
      ),
    )
    .returning();
  const files = await storage();
  for (const { key } of claimed) {
    await files.remove(key);
    await db().delete(storeLeftovers).where(eq(storeLeftovers.key, key));
  }
  return claimed.length;
}
