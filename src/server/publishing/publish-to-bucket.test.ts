import { existsSync } from 'node:fs';
import { mkdtemp, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { revisions } from '@/db/schema';
import { useOwnDatabase } from '@/db/test-database';
import { structureIfc } from '@/demo/library/structure';
import { servePublished } from '@/gateway/published-files';
import { startObjectStore } from '@/stand-ins/object-store/object-store';
import { createProject } from '../projects/projects';
import { startWorker } from './publish-worker';
import { discardRevision, requestPublication, retryPublication } from './publishing';
import { queue } from './queue';
import { removeLeftovers } from '../storage/leftovers';
import { testAccount, type TestPerson } from '../test-people';
import { settled } from '../test-settled';

// An installation whose nodes share a bucket and no disk.

const KEY = { bucket: 'models', keyId: 'yurta', secret: 'felt-and-ink' };
/** Seconds; a store that is away is tried several times. */
const PATIENCE = 30;
/** Within this, in milliseconds, a worker has removed what nothing holds. */
const SOON = { timeout: 20_000, interval: 200 };
let lead: TestPerson;
let project: string;
let stopLooking: () => void;
let data: string;
let port: number;
let store: Awaited<ReturnType<typeof startObjectStore>>;
let server: Server;

const inStore = () => readdir(join(data, 'store', 'objects'));

beforeAll(async () => {
  await useOwnDatabase('bucket');
  data = await mkdtemp(join(tmpdir(), 'bucket-'));
  store = await startObjectStore(join(data, 'store'), 0, KEY);
  port = Number(new URL(store.url).port);
  Object.assign(process.env, {
    YURTA_DATA: data,
    YURTA_BUCKET_URL: store.url,
    YURTA_BUCKET_KEY_ID: KEY.keyId,
    YURTA_BUCKET_SECRET: KEY.secret,
  });
  lead = await testAccount('Keeper');
  project = await createProject(lead.actor, 'No disk in common', '');
  stopLooking = await startWorker();
  server = createServer((request, response) => void servePublished(request, response));
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
});
afterAll(async () => {
  stopLooking();
  server.close();
  await (await queue()).stop({ graceful: false });
  await closeConnection();
  await store.close();
  await rm(data, { recursive: true });
});

async function publish(): Promise<string> {
  const path = join(data, 'frame.ifc');
  await writeFile(path, structureIfc());
  return requestPublication(lead.actor, { projectId: project, path, fileName: 'frame.ifc', modelName: 'F', note: '' });
}

function get(contentId: string, name: string): Promise<Response> {
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}/published/${contentId}/${name}`;
  return fetch(address, { headers: { cookie: lead.cookie, 'accept-encoding': 'br' } });
}

it('publishes into the bucket, leaves nothing on the disk, and serves from there', async () => {
  const { state, error, contentId } = await settled(await publish(), PATIENCE);
  expect([state, error]).toEqual(['published', null]);
  expect(existsSync(join(data, 'storage'))).toBe(false);
  expect(await readdir(join(data, 'work'))).toEqual([]);
  const tileset = await get(contentId!, 'tileset.json');
  expect(tileset.headers.get('content-encoding')).toBe('br');
  const { root } = (await tileset.json()) as { root: { content: { uri: string } } };
  const tile = await get(contentId!, root.content.uri);
  expect(Buffer.from(await tile.arrayBuffer()).toString('latin1', 0, 4)).toBe('glTF');
  expect((await get(contentId!, 'tiles/999.glb')).status).toBe(404);
});

it('says that the bucket is away, keeps everything, and goes on when it is back', async () => {
  const before = await settled(await publish(), PATIENCE);
  const path = join(data, 'late.ifc');
  await writeFile(path, structureIfc());
  await store.close();
  const request = { projectId: project, path, fileName: 'late.ifc', modelName: 'Late', note: '' };
  await expect(requestPublication(lead.actor, request)).rejects.toMatchObject({ code: 'ECONNREFUSED' });
  expect(existsSync(path), 'the upload is still there').toBe(true);
  const answer = await get(before.contentId!, 'tileset.json');
  expect(answer.status).toBe(503);
  expect(((await answer.json()) as { title: string }).title).toContain('What was published is not lost');

  await db().update(revisions).set({ state: 'failed' }).where(eq(revisions.id, before.id));
  await retryPublication(lead.actor, before.id);
  const failed = await settled(before.id, PATIENCE);
  expect(failed.error).toMatch(/^The server’s bucket for models cannot be reached just now\..*The file is kept/);

  store = await startObjectStore(join(data, 'store'), port, KEY);
  await retryPublication(lead.actor, before.id);
  expect((await settled(before.id, PATIENCE)).state).toBe('published');
  expect((await settled(await requestPublication(lead.actor, request), PATIENCE)).state).toBe('published');
});

it('says that the bucket is full, removes half of a revision from it, and what is put aside', async () => {
  const id = await publish();
  await settled(id, PATIENCE);
  // Nothing that a test before has left goes meanwhile and makes room.
  while ((await removeLeftovers(Date.now() + 120_000)) > 0);
  const held = await inStore();
  await store.close();
  const sizes = await Promise.all(held.map(async (name) => (await stat(join(data, 'store', 'objects', name))).size));
  // Room for one more source file, but not for what it becomes.
  const quota = sizes.reduce((sum, one) => sum + one, 0) + structureIfc().length + 2000;
  store = await startObjectStore(join(data, 'store'), port, { ...KEY, quota });
  const late = await publish();
  const failed = await settled(late, PATIENCE);
  expect(failed.error).toMatch(/^There is no room left in the server’s bucket\./);
  await vi.waitFor(async () => expect((await inStore()).length).toBe(held.length + 1), SOON);
  await discardRevision(lead.actor, late);
  await vi.waitFor(async () => expect((await inStore()).sort()).toEqual(held.sort()), SOON);
});
