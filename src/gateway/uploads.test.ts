import { randomBytes } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { closeConnection } from '@/db/database';
import { createProject } from '@/server/projects/projects';
import { testAccount, testGuest, type TestPerson } from '@/server/test-people';
import { createToken } from '@/server/access/tokens';
import { config } from '@/server/config';
import { finishedUpload, removeAbandonedUploads } from '@/server/publishing/uploads';
import { UPLOAD_PATH, uploadServer } from './uploads';

let server: Server;
let origin: string;
let ines: TestPerson;
let mikko: TestPerson;
const FILE = randomBytes(300_000);

beforeAll(async () => {
  ines = await testAccount('Ines');
  mikko = await testAccount('Mikko');
  const tus = uploadServer();
  server = createServer((request, response) => void tus.handle(request, response));
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  server.close();
  await closeConnection();
});

/** A request of the tus protocol, version 1.0.0. */
function tus(method: string, path: string, cookie: string, headers: Record<string, string> = {}, body?: Buffer) {
  return fetch(new URL(path, origin), {
    method,
    headers: { 'Tus-Resumable': '1.0.0', cookie, ...headers },
    body: body && new Uint8Array(body),
  });
}

const named = (name: string) => `filename ${Buffer.from(name).toString('base64')}`;

async function announce(person: TestPerson, length: number, name = 'Bücherei 🌿.ifc'): Promise<string> {
  const answer = await tus('POST', UPLOAD_PATH, person.cookie, {
    'Upload-Length': String(length),
    'Upload-Metadata': named(name),
  });
  expect(answer.status).toBe(201);
  return answer.headers.get('location')!;
}

const send = (person: TestPerson, path: string, offset: number, part: Buffer) =>
  tus(
    'PATCH',
    path,
    person.cookie,
    { 'Upload-Offset': String(offset), 'Content-Type': 'application/offset+octet-stream' },
    part,
  );

describe('an upload', () => {
  it('comes from a program only with a token that may publish', async () => {
    const status = async (right: 'read' | 'comment' | 'publish') => {
      const { token } = await createToken(ines.actor, right, right);
      const headers = { authorization: `Bearer ${token}`, 'Upload-Length': '5', 'Upload-Metadata': named('a.ifc') };
      return (await tus('POST', UPLOAD_PATH, '', headers)).status;
    };
    expect([await status('read'), await status('comment'), await status('publish')]).toEqual([401, 401, 201]);
  });

  it('breaks off, tells how far it came, goes on, and is whole in the end', async () => {
    const path = await announce(ines, FILE.length);
    const id = path.split('/').pop()!;
    await send(ines, path, 0, FILE.subarray(0, 120_000));
    await expect(finishedUpload(ines.actor, id)).rejects.toThrow('not complete yet');
    const head = await tus('HEAD', path, ines.cookie);
    expect(head.headers.get('upload-offset')).toBe('120000');
    // A part that does not join on is refused.
    expect((await send(ines, path, 100_000, FILE.subarray(100_000))).status).toBe(409);
    expect((await send(ines, path, 120_000, FILE.subarray(120_000))).status).toBe(204);
    const finished = await finishedUpload(ines.actor, id);
    expect(finished.fileName).toBe('Bücherei 🌿.ifc');
    expect((await readFile(finished.path)).equals(FILE)).toBe(true);
  });

  it('belongs to who made it', async () => {
    const path = await announce(ines, 4);
    await send(ines, path, 0, Buffer.from('felt'));
    await expect(finishedUpload(mikko.actor, path.split('/').pop()!)).rejects.toThrow('was not found');
  });

  it('is refused where what one account has announced, or the disk, would not hold it', async () => {
    const limits = config() as { maxPendingBytes: number };
    const before = limits.maxPendingBytes;
    const person = await testAccount('Hoarder');
    try {
      limits.maxPendingBytes = 10_000;
      await announce(person, 6000);
      const more = await tus('POST', UPLOAD_PATH, person.cookie, { 'Upload-Length': '6000', 'Upload-Metadata': named('b.ifc') }); // prettier-ignore
      expect(more.status).toBe(413);
      expect(await more.text()).toMatch(/not published/);
      await announce(await testAccount('Other'), 6000);
      const greedy = await testAccount('Greedy');
      const atOnce = await Promise.all(Array.from({ length: 20 }, (_, i) => tus('POST', UPLOAD_PATH, greedy.cookie, { 'Upload-Length': '3000', 'Upload-Metadata': named(`${i}.ifc`) }))); // prettier-ignore
      expect(atOnce.filter(({ status }) => status === 201)).toHaveLength(3);
    } finally {
      limits.maxPendingBytes = before;
    }
  });

  it('of three gigabytes is refused before a byte is sent, with the limit', async () => {
    const answer = await tus('POST', UPLOAD_PATH, ines.cookie, {
      'Upload-Length': String(3 * 1024 ** 3),
      'Upload-Metadata': named('huge.ifc'),
    });
    expect(answer.status).toBe(413);
    expect(await answer.text()).toMatch(/3 072 MB; this installation takes up to 2 048 MB. Nothing was uploaded/);
  });

  it('is for accounts, not for guests or strangers', async () => {
    const project = await createProject(ines.actor, 'Uploads', '');
    const guest = await testGuest(ines.actor, project, 'comment', 'Bo');
    for (const cookie of ['', guest.cookie]) {
      const answer = await tus('POST', UPLOAD_PATH, cookie, {
        'Upload-Length': '4',
        'Upload-Metadata': named('a.ifc'),
      });
      expect([answer.status, await answer.text()]).toEqual([
        401,
        'Sign in to upload a model, or use an access token that may publish.',
      ]);
    }
  });

  it('that nobody goes on with is given up after two days, and not before', async () => {
    const path = await announce(ines, 4);
    await send(ines, path, 0, Buffer.from('fe'));
    const day = 24 * 60 * 60 * 1000;
    await removeAbandonedUploads(Date.now() + day);
    expect((await tus('HEAD', path, ines.cookie)).status).toBe(200);
    expect(await removeAbandonedUploads(Date.now() + 3 * day)).toBeGreaterThanOrEqual(2);
    expect((await tus('HEAD', path, ines.cookie)).status).toBe(404);
  });

  it('of somebody else can be neither continued nor removed', async () => {
    const path = await announce(ines, 4);
    expect((await send(mikko, path, 0, Buffer.from('evil'))).status).toBe(404);
    expect((await tus('DELETE', path, mikko.cookie)).status).toBe(404);
    expect((await tus('HEAD', path, ines.cookie)).headers.get('upload-offset')).toBe('0');
  });
});
