import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { closeConnection, connection } from '@/db/database';
import { config } from '@/server/config';
import { plainPath } from '@/server/log';
import { serveHealth } from './health';
import type { LiveServer } from './live-server';
import { Metrics } from './metrics';

let server: Server;
let origin: string;
let metrics: Metrics;
const limits = config() as { trustProxy: boolean; metricsToken: string | null };
const before = { ...limits };

beforeAll(async () => {
  metrics = new Metrics({ of: () => ({ sockets: new Map([['a', {}]]) }) } as unknown as LiveServer);
  server = createServer((request, response) => {
    void serveHealth(request, response, metrics).then((done) => done || response.writeHead(404).end());
  });
  await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
  origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterEach(() => Object.assign(limits, before));
afterAll(async () => {
  server.close();
  await closeConnection();
});

describe('who watches over a node', () => {
  it('hears that it lives, and whether it can serve', async () => {
    expect((await fetch(`${origin}/healthz`)).status).toBe(200);
    const ready = await fetch(`${origin}/readyz?from=balancer`);
    expect([ready.status, await ready.json()]).toEqual([200, { state: 'ready', database: true }]);
    const { pool } = connection();
    const query = pool.query.bind(pool);
    pool.query = (() => Promise.reject(new Error('gone'))) as unknown as typeof pool.query;
    try {
      const lost = await fetch(`${origin}/readyz`);
      expect([lost.status, await lost.json()]).toEqual([503, { state: 'not ready', database: false }]);
      expect((await fetch(`${origin}/healthz`)).status).toBe(200);
    } finally {
      pool.query = query;
    }
    expect((await fetch(`${origin}/other`)).status).toBe(404);
  });

  it('gets figures that a collector reads', async () => {
    metrics.answered('GET', 200, 'page', 0.03);
    const answer = await fetch(`${origin}/metrics`);
    expect(answer.headers.get('content-type')).toMatch(/^text\/plain; version=0\.0\.4/);
    const text = await answer.text();
    // name, labels, value: the lines of the text format.
    for (const line of text.split('\n').filter(Boolean)) expect(line).toMatch(/^(#|[a-zA-Z_:][\w:]*(\{[^}]*\})? (-?[\d.e+-]+|NaN|\+Inf))/); // prettier-ignore
    expect(text).toContain('yurta_http_requests_total{method="GET",status="200"} 1');
    expect(text).toContain('yurta_sockets 1');
    expect(text).toMatch(/yurta_publications\{state="queued"\} \d+/);
    expect(text).toMatch(/nodejs_eventloop_lag_seconds [\d.e-]+/);
  });

  it('from elsewhere needs the token for it', async () => {
    const status = async (token?: string) =>
      (await fetch(`${origin}/metrics`, token ? { headers: { Authorization: `Bearer ${token}` } } : {})).status;
    limits.trustProxy = true; // what comes from this machine may come from anywhere
    expect(await status()).toBe(403);
    limits.metricsToken = 'a-token-of-some-length';
    expect([await status('another-token'), await status('a-token-of-some-length')]).toEqual([403, 200]);
  });
});

it('no line that is written down holds the secret of a link, or what follows a question mark', () => {
  expect(plainPath('/l/9Xc0secret?x=1')).toBe('/l/…');
  expect(plainPath('/projects/1/review?comment=2')).toBe('/projects/1/review');
});
