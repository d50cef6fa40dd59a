import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { brotliCompressSync } from 'node:zlib';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { serveBuilt } from './built-files';

const SCRIPT = 'console.log("hello");'.repeat(50);
let folder: string;
let server: Server;
let origin: string;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yurta-built-'));
  await mkdir(join(folder, 'static/chunks'), { recursive: true });
  await writeFile(join(folder, 'static/chunks/[page].js.br'), brotliCompressSync(SCRIPT));
  await writeFile(join(folder, 'secret.js.br'), 'secret');
  server = createServer((request, response) => {
    if (!serveBuilt(request, response, folder)) response.writeHead(404).end('by Next');
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(async () => {
  server.close();
  await rm(folder, { recursive: true, force: true });
});

const get = (path: string, encoding = 'gzip, br') =>
  fetch(`${origin}${path}`, { headers: { 'accept-encoding': encoding } });

it('sends what was packed beforehand, to be kept for good', async () => {
  for (const path of ['/_next/static/chunks/[page].js', '/_next/static/chunks/%5Bpage%5D.js?v=1']) {
    const answer = await get(path);
    expect(answer.headers.get('content-encoding')).toBe('br');
    expect(answer.headers.get('content-type')).toBe('text/javascript; charset=utf-8');
    expect(answer.headers.get('cache-control')).toContain('immutable');
    expect(await answer.text()).toBe(SCRIPT);
  }
});

it('leaves everything else to Next: other encodings, other files, ways out of the folder', async () => {
  expect((await get('/_next/static/chunks/[page].js', 'gzip')).status).toBe(404);
  for (const path of [
    '/_next/static/chunks/other.js',
    '/_next/static/../secret.js',
    '/_next/static/%2e%2e/secret.js',
    '/_next/static/..%2fsecret.js',
    '/_next/static/%E0%A4%A.js',
    '/secret.js',
  ])
    expect([path, (await get(path)).status]).toEqual([path, 404]);
});
