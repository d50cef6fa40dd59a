import { randomBytes } from 'node:crypto';
import { mkdir, writeFile } from 'node:fs/promises';
import { createServer, request, type IncomingMessage, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { dirname, join } from 'node:path';
import { brotliCompressSync, brotliDecompressSync } from 'node:zlib';
import { v7 as uuidv7 } from 'uuid';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeConnection, db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { revokeLink } from '@/server/access/links';
import { createProject } from '@/server/projects/projects';
import { storagePath } from '@/server/storage/local-folder';
import { revisionKey } from '@/server/storage/storage';
import { testAccount, testGuest, type TestPerson } from '@/server/test-people';
import { createToken } from '@/server/access/tokens';
import { servePublished } from './published-files';

let server: Server;
let lead: TestPerson;
let stranger: TestPerson;
let project: string;
let revision: string;
const TILE = randomBytes(5000);
const TILESET = Buffer.from(JSON.stringify({ asset: { version: '1.1' }, filler: 'x'.repeat(2000) }));

beforeAll(async () => {
  lead = await testAccount('Files');
  stranger = await testAccount('Stranger');
  project = await createProject(lead.actor, 'Files', '');
  const modelId = uuidv7();
  revision = uuidv7();
  await db().insert(models).values({ id: modelId, projectId: project, name: 'A', discipline: 'Architecture' });
  await db().insert(revisions).values({
    id: uuidv7(),
    contentId: revision,
    projectId: project,
    modelId,
    state: 'published',
    number: 1,
    fileName: 'a.ifc',
    fileBytes: 1,
    authorId: lead.actor.id,
  });
  const put = async (name: string, content: Buffer) => {
    const path = join(storagePath(revisionKey(revision)), name);
    await mkdir(dirname(path), { recursive: true });
    await writeFile(path, content);
  };
  await put('tiles/0.glb', TILE);
  await put('tileset.json', TILESET);
  await put('tileset.json.br', brotliCompressSync(TILESET));
  await put('properties.json', Buffer.from('{}'));
  server = createServer((incoming, response) => void servePublished(incoming, response));
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
});
afterAll(async () => {
  server.close();
  await closeConnection();
});

/** A plain request: fetch would ask for compression and unpack it by itself. */
function get(path: string, headers: Record<string, string> = {}): Promise<IncomingMessage & { body: Buffer }> {
  return new Promise((done, fail) => {
    const { port } = server.address() as AddressInfo;
    request({ port, host: '127.0.0.1', path, headers }, (answer) => {
      const chunks: Buffer[] = [];
      answer.on('data', (chunk: Buffer) => chunks.push(chunk));
      answer.on('end', () => done(Object.assign(answer, { body: Buffer.concat(chunks) })));
    })
      .on('error', fail)
      .end();
  });
}

const file = (name: string) => `/published/${revision}/${name}`;

describe('a published file', () => {
  it('is sent to a program with a token, which opens it for nobody else', async () => {
    const { token } = await createToken(lead.actor, 'Viewer', 'read');
    expect((await get(file('tiles/0.glb'), { authorization: `Bearer ${token}` })).statusCode).toBe(200);
    expect((await get(file('tiles/0.glb'))).statusCode).toBe(401);
    expect((await get(file('tiles/0.glb'), { authorization: 'Bearer yurta_wrong' })).statusCode).toBe(401);
  });

  it('is sent whole, immutable, with its type, and never sniffed as something else', async () => {
    const answer = await get(file('tiles/0.glb'), { cookie: lead.cookie });
    expect(answer.statusCode).toBe(200);
    expect(answer.body.equals(TILE)).toBe(true);
    expect(answer.headers['content-type']).toBe('model/gltf-binary');
    expect(answer.headers['cache-control']).toBe('private, max-age=31536000, immutable');
    const again = await get(file('tiles/0.glb'), { cookie: lead.cookie, 'if-none-match': answer.headers.etag! });
    expect([again.statusCode, again.body.length]).toEqual([304, 0]);
  });

  it('is sent packed to whom takes Brotli, and plain to others', async () => {
    const packed = await get(file('tileset.json'), { cookie: lead.cookie, 'accept-encoding': 'gzip, br' });
    expect(packed.headers['content-encoding']).toBe('br');
    expect(packed.headers.vary).toContain('Accept-Encoding');
    expect(packed.body.length).toBeLessThan(TILESET.length / 2);
    expect(brotliDecompressSync(packed.body).equals(TILESET)).toBe(true);
    const plain = await get(file('tileset.json'), { cookie: lead.cookie, 'accept-encoding': 'gzip' });
    expect(plain.headers['content-encoding']).toBeUndefined();
    expect(plain.body.equals(TILESET)).toBe(true);
  });

  it('is sent in parts, and a part beyond its end is refused', async () => {
    const part = await get(file('tiles/0.glb'), { cookie: lead.cookie, range: 'bytes=100-199' });
    expect([part.statusCode, part.headers['content-range']]).toEqual([206, 'bytes 100-199/5000']);
    expect(part.body.equals(TILE.subarray(100, 200))).toBe(true);
    const tail = await get(file('tiles/0.glb'), { cookie: lead.cookie, range: 'bytes=-10' });
    expect(tail.body.equals(TILE.subarray(4990))).toBe(true);
    expect((await get(file('tiles/0.glb'), { cookie: lead.cookie, range: 'bytes=6000-' })).statusCode).toBe(416);
  });

  it('is for those who may see the project, as long as they may', async () => {
    const guest = await testGuest(lead.actor, project, 'look', 'Bo');
    expect((await get(file('tileset.json'), { cookie: guest.cookie })).statusCode).toBe(200);
    const refused = await get(file('tileset.json'), { cookie: stranger.cookie });
    expect(refused.statusCode).toBe(404);
    expect(refused.headers['content-type']).toBe('application/problem+json');
    expect((await get(file('tileset.json'))).statusCode).toBe(401);
    // A cookie that was not seen in the last seconds is asked for anew.
    await revokeLink(lead.actor, project, guest.linkId);
    expect((await get(file('tileset.json'), { cookie: `${guest.cookie}; a=1` })).statusCode).toBe(401);
  });

  it('that tells how it was made is for members', async () => {
    const guest = await testGuest(lead.actor, project, 'comment', 'Bo');
    expect((await get(file('tileset.json'), { cookie: guest.cookie })).statusCode).toBe(200);
    expect((await get(file('report.json'), { cookie: guest.cookie })).statusCode).toBe(403);
    // Members are let through; this revision has none.
    expect((await get(file('report.json'), { cookie: lead.cookie })).statusCode).toBe(404);
  });

  it('is nothing else of the store', async () => {
    for (const path of [
      `/published/${revision}/properties.json`,
      `/published/${revision}/../../sources/${revision}`,
      `/published/${revision}/tiles/..%2f..%2fsecret`,
      '/published/not-an-id/tileset.json',
      `/published/${uuidv7()}/tileset.json`,
      file('tiles/99.glb'),
    ])
      expect([path, (await get(path, { cookie: lead.cookie })).statusCode]).toEqual([path, 404]);
  });
});
