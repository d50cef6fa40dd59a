import { eq } from 'drizzle-orm';
import { db } from '@/db/database';
import { storeConnections } from '@/db/schema';
import { requirePerson, type Actor } from '../access/access';
import { connectionOf, openTokens } from './connections';
import { releaseSources } from './sources';
import { giveBack } from './store-client';

/** Forgets the connection, the files that were chosen with it, and the right at the store. Models stay. */
export async function disconnect(actor: Actor): Promise<void> {
  requirePerson(actor);
  const row = await connectionOf(actor.id);
  if (!row) return;
  await releaseSources(row.id);
  await db().delete(storeConnections).where(eq(storeConnections.id, row.id));
  // Ours is forgotten whether or not the store can be told.
  await giveBack(openTokens(row.tokens)).catch((error: Error) =>
    process.stderr.write(`model store not told of the end: ${error.message}\n`),
  );
}
