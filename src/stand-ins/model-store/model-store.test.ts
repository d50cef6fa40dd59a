import { createHash } from 'node:crypto';
import { createServer, type Server } from 'node:http';
import { mkdtemp, rm } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it, vi } from 'vitest';
import { startModelStore } from './model-store';

const CLIENT = { id: 'tester', secret: 'quiet', name: 'A test' };
const BACK = 'http://127.0.0.1:9/back';
const VERIFIER = 'v'.repeat(50);
let home: string;
let store: Awaited<ReturnType<typeof startModelStore>>;

beforeAll(async () => {
  home = await mkdtemp(join(tmpdir(), 'model-store-'));
  store = await startModelStore(home, 0, CLIENT);
});
afterAll(async () => {
  await store.close();
  await rm(home, { recursive: true });
});

function errand(part: Record<string, string> = {}): URLSearchParams {
  return new URLSearchParams({
    response_type: 'code',
    client_id: CLIENT.id,
    redirect_uri: BACK,
    scope: 'files.read',
    state: 'mine',
    code_challenge: createHash('sha256').update(VERIFIER).digest('base64url'),
    code_challenge_method: 'S256',
    ...part,
  });
}

const allow = (query: URLSearchParams, headers = {}) =>
  fetch(`${store.origin}/authorize`, {
    method: 'POST',
    headers,
    body: new URLSearchParams([...query, ['answer', 'allow']]),
    redirect: 'manual',
  });
const fetchToken = (part: Record<string, string>) =>
  fetch(`${store.origin}/token`, {
    method: 'POST',
    body: new URLSearchParams({
      client_id: CLIENT.id,
      client_secret: CLIENT.secret,
      grant_type: 'authorization_code',
      redirect_uri: BACK,
      code_verifier: VERIFIER,
      ...part,
    }),
  });

async function code(): Promise<string> {
  const back = new URL((await allow(errand())).headers.get('location')!);
  expect(back.searchParams.get('state')).toBe('mine');
  return back.searchParams.get('code')!;
}

async function right(): Promise<{ access_token: string; refresh_token: string }> {
  return (await (await fetchToken({ code: await code() })).json()) as never;
}

const ask = (path: string, token: string, init: RequestInit = {}) =>
  fetch(store.origin + path, { ...init, headers: { Authorization: `Bearer ${token}` } });
const shelve = (name: string, headers = {}, folder = 'A/B') =>
  fetch(`${store.origin}/shelf?${new URLSearchParams({ folder, name })}`, { method: 'POST', body: name, headers });

describe('the door', () => {
  it('lets in with a code, once, and only whom it was made for', async () => {
    const one = await code();
    expect((await fetchToken({ code: one, client_secret: 'loud' })).status).toBeGreaterThanOrEqual(400);
    const wrong = await code();
    expect((await fetchToken({ code: wrong, code_verifier: 'w'.repeat(50) })).status).toBe(400);
    const good = await code();
    expect((await fetchToken({ code: good })).status).toBe(200);
    expect((await fetchToken({ code: good })).status).toBe(400);
    expect((await fetchToken({ code: 'never made' })).status).toBe(400);
  });

  it('sends nobody to another machine, and gives no other right', async () => {
    for (const redirect_uri of ['https://elsewhere.example/back', 'javascript:alert(1)'])
      expect((await allow(errand({ redirect_uri }))).headers.get('location') ?? '').not.toContain('code=');
    const other = await allow(errand({ scope: 'files.write' }));
    expect(other.headers.get('location')).toContain('error=invalid_scope');
    expect((await allow(errand(), { Origin: 'https://elsewhere.example' })).status).toBe(403);
  });

  it('writes what it was sent as text, never as markup', async () => {
    const page = await (
      await fetch(`${store.origin}/authorize?${errand({ state: '"><script>alert(1)</script>' })}`)
    ).text();
    expect(page).not.toContain('<script>alert');
  });

  it('renews a right and ends it when it is given back', async () => {
    const first = await right();
    expect((await ask('/me', first.access_token)).status).toBe(200);
    const renewed = (await (
      await fetchToken({ grant_type: 'refresh_token', refresh_token: first.refresh_token })
    ).json()) as { access_token: string; refresh_token: string };
    expect((await ask('/me', renewed.access_token)).status).toBe(200);
    expect((await fetchToken({ grant_type: 'refresh_token', refresh_token: first.refresh_token })).status).toBe(400);
    const body = new URLSearchParams({
      token: renewed.refresh_token,
      client_id: CLIENT.id,
      client_secret: CLIENT.secret,
    });
    expect((await fetch(`${store.origin}/revoke`, { method: 'POST', body })).status).toBe(200);
    expect((await ask('/me', renewed.access_token)).status).toBe(401);
    body.set('client_secret', 'loud');
    expect((await fetch(`${store.origin}/revoke`, { method: 'POST', body })).status).toBe(401);
  });
});

describe('the shelf', () => {
  it('keeps versions of a name, over a restart as well, and shows them to whom it let in', async () => {
    await shelve('one.ifc');
    const again = (await (await shelve('one.ifc')).json()) as { id: string; versions: { number: number }[] };
    expect(again.versions.map(({ number }) => number)).toEqual([1, 2]);
    const { access_token: token } = await right();
    await store.close();
    store = await startModelStore(home, Number(new URL(store.origin).port), CLIENT);
    const root = (await (await ask('/folders/root', token)).json()) as { folders: { id: string; name: string }[] };
    expect(root.folders.map(({ name }) => name)).toEqual(['A']);
    expect(await (await ask(`/files/${again.id}/versions/2/content`, token)).text()).toBe('one.ifc');
    for (const path of ['/folders/none', '/files/none', `/files/${again.id}/versions/3/content`, '/nothing'])
      expect((await ask(path, token)).status, path).toBe(404);
    expect((await ask('/folders/root', 'made-up')).status).toBe(401);
  });

  it('takes nothing from other pages, nor names that lead elsewhere', async () => {
    expect((await shelve('two.ifc', { Origin: 'https://elsewhere.example' })).status).toBe(403);
    expect((await shelve('../two.ifc')).status).toBe(400);
    expect((await shelve('')).status).toBe(400);
    expect(await (await fetch(store.origin)).text()).not.toContain('two.ifc');
    await shelve('<b>bold</b>.ifc');
    expect(await (await fetch(store.origin)).text()).not.toContain('<b>bold');
  });
});

describe('notices', () => {
  let hook: Server;
  let answers: number[];
  let heard: { body: string; signature: string }[];
  beforeAll(async () => {
    hook = createServer((request, response) => {
      let body = '';
      request.on('data', (part: Buffer) => (body += part.toString()));
      request.on('end', () => {
        heard.push({ body, signature: String(request.headers['store-signature']) });
        response.writeHead(answers.shift() ?? 200).end();
      });
    });
    await new Promise<void>((ready) => hook.listen(0, '127.0.0.1', ready));
  });
  afterAll(() => new Promise((closed) => hook.close(closed)));

  it('come again where the other side stumbled, and stop where nobody follows any more', async () => {
    [answers, heard] = [[500, 200], []];
    const { access_token: token } = await right();
    const { id } = (await (await shelve('told.ifc')).json()) as { id: string };
    const address = `http://127.0.0.1:${(hook.address() as AddressInfo).port}/`;
    const body = JSON.stringify({ file: id, address, secret: 's' });
    expect((await ask('/subscriptions', token, { method: 'POST', body })).status).toBe(200);
    await shelve('told.ifc');
    await vi.waitFor(() => expect(heard).toHaveLength(2), { timeout: 15_000 });
    expect(JSON.parse(heard[1]!.body)).toEqual({ type: 'file.version', file: id, version: 2 });
    expect(heard[1]!.signature).toMatch(/^t=\d+,v1=[0-9a-f]{64}$/);
    answers = [410];
    await shelve('told.ifc');
    await vi.waitFor(() => expect(heard).toHaveLength(3), { timeout: 15_000 });
    await shelve('told.ifc');
    await new Promise((done) => setTimeout(done, 300));
    expect(heard).toHaveLength(3);
    for (const wrong of ['{', '{}', JSON.stringify({ file: id, address: 'no address', secret: 's' })])
      expect((await ask('/subscriptions', token, { method: 'POST', body: wrong })).status).toBe(400);
    expect((await ask('/subscriptions/none', token, { method: 'DELETE' })).status).toBe(404);
  });
});
