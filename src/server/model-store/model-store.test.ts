import { createHmac } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { text } from 'node:stream/consumers';
import { eq } from 'drizzle-orm';
import { afterAll, beforeAll, expect, it, vi } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { revisions, storeConnections, storeSources } from '@/db/schema';
import { startModelStore } from '@/stand-ins/model-store/model-store';
import { createProject } from '../projects/projects';
import { Problem } from '../problems';
import { seal, unseal } from '../access/seal';
import { storagePath } from '../storage/local-folder';
import { sourceKey } from '../storage/storage';
import { testAccount, type TestPerson } from '../test-people';
import { beginConnection, browse, connectionOf, finishConnection, readConnection } from './connections';
import { disconnect } from './disconnect';
import { addSource, followSource, listSources, removeSource, takeSource } from './sources';
import { hearNotice } from './store-notices';
import { lookAfterSources, take } from './take';

// The store is the stand-in in this process, reached over real sockets; its notices come back over a socket too.

const CLIENT = { id: 'yurta', secret: 'between us', name: 'Yurta' };
const ARRIVAL = 'http://localhost:3210/api/model-store/arrival';
const PAGE = '/projects/some/prepare';
let home: string;
let store: Awaited<ReturnType<typeof startModelStore>>;
let hooks: Server;
let lead: TestPerson;
let project: string;

beforeAll(async () => {
  home = await mkdtemp(join(tmpdir(), 'yurta-store-'));
  store = await startModelStore(home, 0, CLIENT);
  hooks = createServer((request, response) => {
    const source = request.url!.split('/').at(-1)!;
    text(request)
      .then((body) => hearNotice(source, String(request.headers['store-signature']), body))
      .then(
        () => response.end(),
        (error: unknown) => response.writeHead(error instanceof Problem ? error.status : 500).end(),
      );
  });
  await new Promise<void>((ready) => hooks.listen(0, '127.0.0.1', ready));
  process.env.YURTA_PUBLIC_URL = `http://127.0.0.1:${(hooks.address() as AddressInfo).port}`;
  process.env.YURTA_STORE_URL = store.origin;
  process.env.YURTA_STORE_NAME = 'Sample store';
  process.env.YURTA_STORE_CLIENT_ID = CLIENT.id;
  process.env.YURTA_STORE_CLIENT_SECRET = CLIENT.secret;
  lead = await testAccount('Storekeeper');
  project = await createProject(lead.actor, 'From the store', '');
});
afterAll(async () => {
  await store.close();
  await new Promise((closed) => hooks.close(closed));
  await closeConnection();
  await rm(home, { recursive: true });
});

/** A person stores a version on the store's own page. */
async function shelve(name: string, content: string): Promise<string> {
  const answer = await fetch(`${store.origin}/shelf?${new URLSearchParams({ folder: 'House/Models', name })}`, {
    method: 'POST',
    body: content,
  });
  return ((await answer.json()) as { id: string }).id;
}

/** A person follows the address, answers the store's question, and comes back with the query of the address. */
async function atTheDoor(address: string, answer: 'allow' | 'deny'): Promise<URLSearchParams> {
  const question = await fetch(address);
  expect(await question.text()).toContain('Allow Yurta to read your files?');
  const body = new URLSearchParams(new URL(address).searchParams);
  body.set('answer', answer);
  const back = await fetch(`${store.origin}/authorize`, { method: 'POST', body, redirect: 'manual' });
  const location = new URL(back.headers.get('location')!);
  expect(location.origin + location.pathname).toBe(ARRIVAL);
  return location.searchParams;
}

async function connect(person = lead): Promise<void> {
  const { address, errand } = await beginConnection(person.actor, ARRIVAL, PAGE);
  expect(await finishConnection(person.actor, await atTheDoor(address, 'allow'), errand)).toBe(PAGE);
}

async function choose(name: string, follow: boolean): Promise<string> {
  const fileId = await shelve(name, `${name} one`);
  return addSource(lead.actor, project, { fileId, modelName: name, discipline: 'Structure', follow });
}

const sourceOf = async (id: string) => (await listSources(lead.actor, project)).find((source) => source.id === id)!;

it('connects only whom the store and the person let in, and keeps the right sealed', async () => {
  const { address, errand } = await beginConnection(lead.actor, ARRIVAL, PAGE);
  const denied = await atTheDoor(address, 'deny');
  await expect(finishConnection(lead.actor, denied, errand)).rejects.toThrow('Sample store was not connected');

  const other = await beginConnection(lead.actor, ARRIVAL, PAGE);
  const query = await atTheDoor(other.address, 'allow');
  const stranger = await testAccount('Elsewhere');
  await expect(finishConnection(stranger.actor, query, other.errand)).rejects.toThrow('begun elsewhere');
  await expect(finishConnection(lead.actor, query, 'no errand')).rejects.toThrow('begun elsewhere');
  const forged = new URLSearchParams(query);
  forged.set('state', 'another');
  await expect(finishConnection(lead.actor, forged, other.errand)).rejects.toThrow('was not connected');
  expect(await readConnection(lead.actor)).toEqual({ store: 'Sample store', account: null, trouble: null });

  await finishConnection(lead.actor, query, other.errand);
  await expect(finishConnection(lead.actor, query, other.errand), 'a code is good once').rejects.toThrow(Problem);
  expect((await readConnection(lead.actor))?.account).toBe('Ines Okafor');
  expect((await connectionOf(lead.actor.id))!.tokens).not.toContain('access');
});

it('takes the chosen file, then hears of a new version and takes that too', async () => {
  await connect();
  await shelve('frame.ifc', 'frame.ifc zero');
  const root = await browse(lead.actor, 'root');
  const house = await browse(lead.actor, root.folders.find(({ name }) => name === 'House')!.id);
  const shelf = await browse(lead.actor, house.folders[0]!.id);
  expect(shelf.path.map(({ name }) => name)).toEqual(['All files', 'House', 'Models']);
  expect(shelf.files.map(({ name, version }) => [name, version.number, version.bytes])).toEqual([['frame.ifc', 1, 14]]);

  const id = await choose('frame.ifc', true);
  await take(id, lead.actor.id);
  const first = await sourceOf(id);
  expect(first).toMatchObject({ newest: 2, taken: { version: 2 }, path: ['House', 'Models'] });
  // How far it is, is not said here: workers of other tests may look into the same queue.
  const { version, revisionId } = first.taken!;
  const [queued] = await db().select().from(revisions).where(eq(revisions.id, revisionId));
  expect(queued).toMatchObject({ modelId: first.modelId, note: 'Version 2 from Sample store, by Ines Okafor' });
  expect(await readFile(storagePath(sourceKey(revisionId)), 'utf8')).toBe('frame.ifc one');
  await take(id, lead.actor.id);
  expect((await sourceOf(id)).taken, 'what was taken is not taken again').toMatchObject({ version, revisionId });

  await shelve('frame.ifc', 'frame.ifc two');
  await vi.waitFor(async () => expect((await sourceOf(id)).newest).toBe(3), { timeout: 10_000 });
  await take(id, lead.actor.id);
  const [latest] = await db()
    .select()
    .from(revisions)
    .where(eq(revisions.id, (await sourceOf(id)).taken!.revisionId));
  expect(latest).toMatchObject({
    modelId: first.modelId,
    fileName: 'frame.ifc',
    note: 'Version 3 from Sample store, by Ines Okafor',
    authorId: lead.actor.id,
  });
});

it('sees a version whose notice was lost, leaves what is not followed to a person, and lets go', async () => {
  await connect();
  const id = await choose('roof.ifc', false);
  await take(id, lead.actor.id);
  const subscription = (await db().select().from(storeSources).where(eq(storeSources.id, id)))[0]!.subscription;
  await db()
    .update(storeSources)
    .set({ secret: seal('store notices', 'another') })
    .where(eq(storeSources.id, id));
  await shelve('roof.ifc', 'roof.ifc two');
  expect((await sourceOf(id)).newest).toBe(1);
  await lookAfterSources(Date.now() + 60_000);
  expect((await sourceOf(id)).newest, 'looked at a minute ago').toBe(1);
  await lookAfterSources(Date.now() + 3_600_000);
  expect(await sourceOf(id)).toMatchObject({ newest: 2, taken: { version: 1 } });
  await takeSource(lead.actor, project, id);
  await followSource(lead.actor, project, id, true);
  expect((await sourceOf(id)).follow).toBe(true);

  await removeSource(lead.actor, project, id);
  expect(await sourceOf(id)).toBeUndefined();
  const shelf = JSON.parse(await readFile(join(home, 'shelf.json'), 'utf8')) as { subscriptions: { id: string }[] };
  expect(shelf.subscriptions.map((one) => one.id)).not.toContain(subscription);
});

it('refuses notices that the store did not sign, old ones, and those about another file', async () => {
  await connect();
  const id = await choose('stair.ifc', true);
  const [row] = await db().select().from(storeSources).where(eq(storeSources.id, id));
  const sign = (body: string, at = Math.floor(Date.now() / 1000)) =>
    `t=${at},v1=${createHmac('sha256', unseal('store notices', row!.secret)).update(`${at}.${body}`).digest('hex')}`;
  const body = JSON.stringify({ type: 'file.version', file: row!.fileId, version: 9 });
  const refused = (of: string, signature: string, content = body) =>
    hearNotice(of, signature, content).then(
      () => 'taken',
      (error: Problem) => error.status,
    );
  expect(await refused(id, sign(`${body} `))).toBe(401);
  expect(await refused(id, sign(body, Math.floor(Date.now() / 1000) - 3600))).toBe(401);
  expect(await refused(id, '')).toBe(401);
  const other = body.replace(row!.fileId, 'other');
  expect(await refused(id, sign(other), other)).toBe(400);
  expect(await refused(id, sign('{'), '{')).toBe(400);
  expect(await refused('00000000-0000-7000-8000-000000000000', sign(body))).toBe(410);
  expect((await sourceOf(id)).newest).toBe(1);
  expect(await refused(id, sign(body))).toBe('taken');
  expect((await sourceOf(id)).newest).toBe(9);
});

it('renews a right that has ended, says so when the store takes it away, and forgets it when asked', async () => {
  await connect();
  const id = await choose('court.ifc', true);
  const row = (await connectionOf(lead.actor.id))!;
  const tokens = JSON.parse(unseal('store tokens', row.tokens)) as { access: string; refresh: string };
  const keep = (values: object) =>
    db()
      .update(storeConnections)
      .set({ tokens: seal('store tokens', JSON.stringify({ ...tokens, ...values })) })
      .where(eq(storeConnections.id, row.id));
  await keep({ endsAt: Date.now() - 1 });
  expect((await browse(lead.actor, 'root')).name).toBe('All files');
  expect((await connectionOf(lead.actor.id))!.tokens).not.toBe(row.tokens);

  await keep({ endsAt: Date.now() - 1 }); // the old refresh token was good once
  await take(id, lead.actor.id);
  expect((await sourceOf(id)).trouble).toBe('Sample store does not let Yurta in any more. Connect again.');
  expect((await readConnection(lead.actor))?.trouble).toContain('Connect again');

  await connect();
  expect(await readConnection(lead.actor)).toMatchObject({ account: 'Ines Okafor', trouble: null });
  const right = JSON.parse(unseal('store tokens', (await connectionOf(lead.actor.id))!.tokens)) as { access: string };
  const asStore = () => fetch(`${store.origin}/me`, { headers: { Authorization: `Bearer ${right.access}` } });
  expect((await asStore()).status).toBe(200);
  const before = await db().select().from(revisions).where(eq(revisions.projectId, project));
  await disconnect(lead.actor);
  expect((await asStore()).status).toBe(401);
  expect(await listSources(lead.actor, project)).toEqual([]);
  expect(await db().select().from(revisions).where(eq(revisions.projectId, project))).toHaveLength(before.length);
  await expect(browse(lead.actor, 'root')).rejects.toThrow('You are not connected');
});

it('says that a store is away, and takes nothing for taken', async () => {
  await connect();
  const id = await choose('plinth.ifc', true);
  await store.close();
  await take(id, lead.actor.id);
  expect(await sourceOf(id)).toMatchObject({ taken: null, trouble: expect.stringContaining('does not answer') });
  store = await startModelStore(home, Number(new URL(store.origin).port), CLIENT);
  await take(id, lead.actor.id);
  expect(await sourceOf(id)).toMatchObject({ taken: { version: 1 }, trouble: null });
});
