import { existsSync } from 'node:fs';
import { mkdtemp, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { useOwnDatabase } from '@/db/test-database';
import { announceKey, giveUpKey, holdKey, letGoOfKeys, removeLeftovers } from './leftovers';
import { storagePath } from './local-folder';
import { storage } from './storage';

const HOUR = 60 * 60 * 1000;
let data: string;

beforeAll(async () => {
  await useOwnDatabase('leftovers');
  data = await mkdtemp(join(tmpdir(), 'leftovers-'));
  process.env.YURTA_DATA = data;
});
afterAll(async () => {
  await closeConnection();
  await rm(data, { recursive: true });
});

async function store(key: string): Promise<void> {
  await announceKey(key);
  const from = join(data, 'upload');
  await writeFile(from, key);
  await (await storage()).keepFile(from, key);
  await rm(from);
}

const isThere = (key: string) => existsSync(storagePath(key));
const hold = (key: string) => db().transaction((tx) => holdKey(tx, key));

it('keeps what is being stored, and removes it a day later where nothing came to hold it', async () => {
  await store('sources/slow');
  await removeLeftovers(Date.now() + 23 * HOUR);
  expect(isThere('sources/slow')).toBe(true);
  expect(await removeLeftovers(Date.now() + 25 * HOUR)).toBe(1);
  expect(isThere('sources/slow')).toBe(false);
  expect(await removeLeftovers(Date.now() + 50 * HOUR)).toBe(0);
});

it('keeps what is held, also from one that gives it up too late, until it is let go of', async () => {
  await store('sources/held');
  expect(await hold('sources/held')).toBe(true);
  await giveUpKey('sources/held');
  expect(await removeLeftovers(Date.now() + 50 * HOUR)).toBe(0);
  expect(isThere('sources/held')).toBe(true);
  await db().transaction((tx) => letGoOfKeys(tx, ['sources/held']));
  expect(await removeLeftovers()).toBe(1);
  expect(isThere('sources/held')).toBe(false);
});

it('strikes nothing out of a transaction that fails', async () => {
  await store('sources/undone');
  const undone = db().transaction(async (tx) => {
    await holdKey(tx, 'sources/undone');
    throw new Error('no room in the table');
  });
  await expect(undone).rejects.toThrow('no room');
  await giveUpKey('sources/undone');
  expect(await removeLeftovers()).toBe(1);
  expect(isThere('sources/undone')).toBe(false);
});

it('lets nobody hold what was given up', async () => {
  await store('sources/late');
  await giveUpKey('sources/late');
  expect(await hold('sources/late')).toBe(false);
  expect(await removeLeftovers()).toBe(1);
});

it('tries again a minute later where the store could not be reached', async () => {
  await store('sources/away');
  await giveUpKey('sources/away');
  // A disk that is pulled out is played by a file where its folder was.
  await rename(join(data, 'storage'), join(data, 'aside'));
  await writeFile(join(data, 'storage'), '');
  await expect(removeLeftovers()).rejects.toThrow();
  await rm(join(data, 'storage'));
  await rename(join(data, 'aside'), join(data, 'storage'));
  expect(await removeLeftovers(), 'not at once').toBe(0);
  expect(await removeLeftovers(Date.now() + 61_000)).toBe(1);
  expect(isThere('sources/away')).toBe(false);
});
