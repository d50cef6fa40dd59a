import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, readdir, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startObjectStore } from '@/stand-ins/object-store/object-store';
import { Bucket } from './bucket';
import { LocalFolder, storagePath } from './local-folder';
import type { Storage } from './storage';
import { workFolder } from './work-folder';

// One law for both: what a folder does, a bucket does.

let data: string;
let server: Server;
let held: Storage;
let store: Awaited<ReturnType<typeof startObjectStore>>;
let bucket: Bucket;

beforeAll(async () => {
  data = await mkdtemp(join(tmpdir(), 'storage-'));
  process.env.YURTA_DATA = data;
  const key = { keyId: 'yurta', secret: 'felt-and-ink' };
  store = await startObjectStore(join(data, 'store'), 0, { bucket: 'models', ...key });
  bucket = new Bucket({ url: store.url, region: 'us-east-1', ...key });
  server = createServer((request, response) => {
    void held.send(decodeURIComponent(request.url!.slice(1)), request, response).then((found) => {
      if (!found) response.writeHead(404).end();
    });
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
});
afterAll(async () => {
  server.close();
  await store.close();
  await rm(data, { recursive: true });
});

function get(key: string, headers: Record<string, string> = {}, method = 'GET'): Promise<Response> {
  const { port } = server.address() as AddressInfo;
  return fetch(`http://127.0.0.1:${port}/${encodeURIComponent(key)}`, { headers, method });
}

async function body(answer: Response): Promise<Buffer> {
  return Buffer.from(await answer.arrayBuffer());
}

describe.each([
  ['a folder', (): Storage => new LocalFolder()],
  ['a bucket', (): Storage => bucket],
])('%s', (_, open) => {
  it('keeps a file beside the one that was brought, and lends it as a path', async () => {
    held = open();
    const content = randomBytes(6e6); // a bucket takes it in parts
    const from = join(data, 'upload');
    await writeFile(from, content);
    await held.keepFile(from, 'sources/one');
    expect((await readFile(from)).equals(content)).toBe(true);
    await rm(from);
    expect((await held.withFile('sources/one', (path) => readFile(path))).equals(content)).toBe(true);
    await held.remove('sources/one');
    await expect(held.withFile('sources/one', (path) => readFile(path))).rejects.toThrow();
    const left = existsSync(workFolder()) ? await readdir(workFolder()) : [];
    expect(left, 'nothing is left behind').toEqual([]);
  });

  it('takes a folder over, sends its files whole, by ranges and by conditions, and removes it with all in it', async () => {
    held = open();
    const tile = randomBytes(5000);
    const from = join(data, 'finished');
    await mkdir(join(from, 'tiles'), { recursive: true });
    await writeFile(join(from, 'tileset.json'), '{}');
    await writeFile(join(from, 'empty'), '');
    for (let i = 0; i < 12; i++) await writeFile(join(from, 'tiles', `${i}.glb`), tile);
    await held.takeFolder(from, 'revisions/r1');
    expect(existsSync(from)).toBe(false);

    const whole = await get('revisions/r1/tiles/11.glb');
    expect([whole.status, whole.headers.get('content-length')]).toEqual([200, '5000']);
    expect((await body(whole)).equals(tile)).toBe(true);
    expect(await (await get('revisions/r1/empty')).text()).toBe('');
    const head = await get('revisions/r1/tiles/11.glb', {}, 'HEAD');
    expect([head.status, head.headers.get('content-length')]).toEqual([200, '5000']);
    const etag = whole.headers.get('etag')!;
    // As a browser asks; by itself, fetch would ask not to be spared anything.
    const again = { 'if-none-match': etag, 'cache-control': 'max-age=0' };
    expect((await get('revisions/r1/tiles/11.glb', again)).status).toBe(304);
    const part = await get('revisions/r1/tiles/11.glb', { range: 'bytes=100-199' });
    expect([part.status, part.headers.get('content-range')]).toEqual([206, 'bytes 100-199/5000']);
    expect((await body(part)).equals(tile.subarray(100, 200))).toBe(true);
    expect((await get('revisions/r1/tiles/11.glb', { range: 'bytes=5000-' })).status).toBe(416);
    expect((await get('revisions/r1/tiles/12.glb')).status).toBe(404);

    await mkdir(from);
    await writeFile(join(from, 'tileset.json'), 'another');
    await held.takeFolder(from, 'revisions/r12');
    await held.remove('revisions/r1');
    expect((await get('revisions/r1/tileset.json')).status).toBe(404);
    expect((await get('revisions/r1/tiles/0.glb')).status).toBe(404);
    expect(await (await get('revisions/r12/tileset.json')).text(), 'a name that only begins alike').toBe('another');
    await held.remove('revisions/r1');
  });
});

it('keeps keys inside its folder', () => {
  expect(() => storagePath('../secret')).toThrow(RangeError);
  expect(() => storagePath('revisions/../../secret')).toThrow(RangeError);
});

it('copies into the folder what lies on another disk', async () => {
  const other = await mkdtemp('/dev/shm/storage-');
  try {
    expect((await stat(other)).dev).not.toBe((await stat(data)).dev);
    const from = join(other, 'upload');
    await writeFile(from, 'model');
    await new LocalFolder().keepFile(from, 'sources/from-afar');
    expect(await readFile(storagePath('sources/from-afar'), 'utf8')).toBe('model');
    expect(await readFile(from, 'utf8')).toBe('model');
  } finally {
    await rm(other, { recursive: true });
  }
});
