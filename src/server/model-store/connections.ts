import { eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { StoreConnection, StoreFolder } from '@/core/project/model-store';
import { db } from '@/db/database';
import { storeConnections } from '@/db/schema';
import { requirePerson, type Actor } from '../access/access';
import { config } from '../config';
import { Problem } from '../problems';
import { seal, unseal } from '../access/seal';
import {
  beginErrand,
  finishErrand,
  isStale,
  readAccount,
  readFolder,
  renew,
  storeSettings,
  StoreRefusal,
  type StoreErrand,
  type StoreTokens,
} from './store-client';

const TOKENS = 'store tokens';
const ERRAND = 'store errand';
/** How long a person may take at the store's door. */
const ERRAND_MS = 15 * 60 * 1000;

interface KeptErrand extends StoreErrand {
  userId: string;
  /** The page to come back to. */
  page: string;
  endsAt: number;
}

/** How the account stands with the model store; null where this installation has none. */
export async function readConnection(actor: Actor): Promise<StoreConnection | null> {
  if (!config().modelStore || actor.kind !== 'user') return null;
  const row = await connectionOf(actor.id);
  return { store: storeSettings().name, account: row?.account ?? null, trouble: row?.trouble ?? null };
}

/**
 * Begins connecting: where to send the person, and what their browser must bring back.
 *
 * @param redirect address of ours to which the store sends them back
 * @param page path of ours to go on with then
 */
export async function beginConnection(
  actor: Actor,
  redirect: string,
  page: string,
): Promise<{ address: string; errand: string }> {
  requirePerson(actor);
  const { address, errand } = await beginErrand(redirect);
  const kept: KeptErrand = { ...errand, userId: actor.id, page, endsAt: Date.now() + ERRAND_MS };
  return { address: address.href, errand: seal(ERRAND, JSON.stringify(kept)) };
}

/**
 * Ends connecting, when the store sends the person back. Returns the page to go on with.
 *
 * @param sealed the errand that their browser brought back
 * @throws Problem if the browser, the account or the store has another mind
 */
export async function finishConnection(actor: Actor, query: URLSearchParams, sealed: string): Promise<string> {
  requirePerson(actor);
  const errand = openErrand(sealed);
  if (!errand || errand.userId !== actor.id || errand.endsAt < Date.now())
    throw new Problem(409, 'Connecting took too long or was begun elsewhere. Nothing was changed; begin again.');
  const tokens = await finishErrand(query, errand);
  const account = await readAccount(tokens.access);
  const values = { account, tokens: seal(TOKENS, JSON.stringify(tokens)), trouble: null };
  await db()
    .insert(storeConnections)
    .values({ id: uuidv7(), userId: actor.id, ...values })
    .onConflictDoUpdate({ target: storeConnections.userId, set: values });
  return errand.page;
}

/** The page that an errand was begun on, whoever asks; null if it cannot be read. */
export function pageOfErrand(sealed: string): string | null {
  return openErrand(sealed)?.page ?? null;
}

function openErrand(sealed: string): KeptErrand | null {
  try {
    return JSON.parse(unseal(ERRAND, sealed)) as KeptErrand;
  } catch {
    return null; // not ours, or of another installation: as good as none
  }
}

/** A folder of the account's store. */
export async function browse(actor: Actor, folder: string): Promise<StoreFolder> {
  requirePerson(actor);
  const row = await connectionOf(actor.id);
  if (!row) throw new Problem(409, `You are not connected to ${storeSettings().name}. Connect first.`);
  return withAccess(row.id, (access) => readFolder(access, folder));
}

export async function connectionOf(userId: string) {
  const [row] = await db().select().from(storeConnections).where(eq(storeConnections.userId, userId));
  return row;
}

/**
 * Does something at the store with a connection's right, renewed where it has ended. A connection that the store refuses
 * is marked, so that its person is asked to connect again.
 */
export async function withAccess<T>(connectionId: string, work: (access: string) => Promise<T>): Promise<T> {
  try {
    return await work(await accessOf(connectionId));
  } catch (error) {
    if (!(error instanceof StoreRefusal)) throw error;
    await db().update(storeConnections).set({ trouble: error.message }).where(eq(storeConnections.id, connectionId));
    throw new Problem(409, error.message);
  }
}

/** One process at a time renews a connection's tokens: each renewal ends the tokens before it. */
function accessOf(connectionId: string): Promise<string> {
  return db().transaction(async (tx) => {
    const [row] = await tx.select().from(storeConnections).where(eq(storeConnections.id, connectionId)).for('update');
    if (!row) throw new Problem(409, `The connection to ${storeSettings().name} has ended. Connect again.`);
    let tokens = openTokens(row.tokens);
    if (isStale(tokens)) {
      tokens = await renew(tokens);
      const sealed = seal(TOKENS, JSON.stringify(tokens));
      await tx
        .update(storeConnections)
        .set({ tokens: sealed, trouble: null })
        .where(eq(storeConnections.id, connectionId));
    }
    return tokens.access;
  });
}

export function openTokens(sealed: string): StoreTokens {
  return JSON.parse(unseal(TOKENS, sealed)) as StoreTokens;
}
