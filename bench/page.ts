import { spawn } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import type { Browser } from '@playwright/test';
import { DEMO_ACCOUNTS, DEMO_PASSWORD } from '@/demo/seed';
import { launchChromium } from '../tests/support/stage-server';
import { round, summarise, tell } from './measure';

/** A slow line: 1.6 Mbit/s, 150 ms. */
const LINE = { bytesPerSecond: 1.6e6 / 8, latencyMs: 150 };
const PHONE = { width: 390, height: 760 };

/** What a guest's phone loads from a link until the whole building shows, and how long that takes on a slow line. */
const { values } = parseArgs({
  allowPositionals: true,
  options: { runs: { type: 'string' }, server: { type: 'string' } },
});
const runs = Number(values.runs ?? 3);
const folder = await mkdtemp(join(tmpdir(), 'yurta-bench-'));
const demo = values.server ? null : await startDemo(folder);
const browser = await launchChromium();
try {
  const origin = values.server ?? demo!.origin;
  const link = await makeLink(browser, origin);
  const visits: Visit[] = [];
  for (let run = 0; run < runs; run++) visits.push(await visit(browser, link));
  const middle = (of: (one: (typeof visits)[number]) => number) => {
    const { median, least, most } = summarise(visits.map(of));
    return { median: round(median, 2), least: round(least, 2), most: round(most, 2) };
  };
  const first = visits[0]!;
  tell('page', 'a guest’s phone, from the link to the whole building', {
    kilobytes: Object.fromEntries(Object.entries(first.bytes).map(([kind, sum]) => [kind, round(sum / 1000, 1)])),
    secondsFromJoin: middle(({ seconds }) => seconds),
    // What the bytes after joining need at least on this line.
    referenceSeconds: middle(({ bytesAfterJoin }) => bytesAfterJoin / LINE.bytesPerSecond + LINE.latencyMs / 1000),
    runs,
  });
} finally {
  await browser.close();
  demo?.stop();
  await rm(folder, { recursive: true, force: true, maxRetries: 5 });
}
process.exit();

interface Visit {
  seconds: number;
  bytes: Record<string, number>;
  bytesAfterJoin: number;
}

async function visit(from: Browser, link: string): Promise<Visit> {
  const context = await from.newContext({ viewport: PHONE, hasTouch: true, isMobile: true, deviceScaleFactor: 2 });
  const page = await context.newPage();
  const wire = await context.newCDPSession(page);
  await wire.send('Network.enable');
  await wire.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: LINE.latencyMs,
    downloadThroughput: LINE.bytesPerSecond,
    uploadThroughput: LINE.bytesPerSecond,
  });
  const bytes: Record<string, number> = { scripts: 0, styles: 0, fonts: 0, pictures: 0, model: 0, other: 0 };
  const kinds = new Map<string, string>();
  let bytesAfterJoin = 0;
  let joined = 0;
  wire.on('Network.responseReceived', ({ requestId, type, response }) =>
    kinds.set(requestId, kindOf(type, response.url)),
  );
  wire.on('Network.loadingFinished', ({ requestId, encodedDataLength }) => {
    const kind = kinds.get(requestId) ?? 'other';
    bytes[kind] = (bytes[kind] ?? 0) + encodedDataLength;
    if (joined > 0) bytesAfterJoin += encodedDataLength;
  });
  await page.goto(link);
  await page.getByLabel('Your name').fill('Tuula');
  joined = performance.now();
  await page.getByRole('button', { name: 'Come in' }).click();
  await page.waitForURL('**/review');
  // All surfaces of the first look are on the screen.
  await page.getByText('The model is arriving').waitFor({ state: 'visible' });
  await page.getByText('The model is arriving').waitFor({ state: 'hidden', timeout: 120_000 });
  const seconds = (performance.now() - joined) / 1000;
  await context.close();
  return { seconds, bytes, bytesAfterJoin };
}

function kindOf(type: string, url: string): string {
  if (url.includes('/published/')) return 'model';
  if (type === 'Script' || /\.js(\?|$)/.test(url)) return 'scripts';
  if (type === 'Stylesheet') return 'styles';
  if (type === 'Font') return 'fonts';
  if (type === 'Image') return 'pictures';
  return 'other';
}

async function makeLink(from: Browser, origin: string): Promise<string> {
  const { request } = await from.newContext({ baseURL: origin, extraHTTPHeaders: { origin } });
  const { email } = DEMO_ACCOUNTS[0]!;
  const signedIn = await request.post('/api/auth/sign-in/email', { data: { email, password: DEMO_PASSWORD } });
  if (!signedIn.ok()) throw new Error(`signing in failed: ${signedIn.status()}`);
  const projects = (await (await request.get('/api/projects')).json()) as { id: string; name: string }[];
  const { id } = projects.find(({ name }) => name === 'Town library')!;
  const made = await request.post(`/api/projects/${id}/links`, { data: { right: 'comment', label: 'Bench' } });
  if (!made.ok()) throw new Error(`the link was not made: ${await made.text()}`);
  return ((await made.json()) as { url: string }).url;
}

function startDemo(data: string): Promise<{ origin: string; stop(): void }> {
  const child = spawn(join(import.meta.dirname, '../yurta'), ['demo'], {
    env: { ...process.env, YURTA_DATA: data, PORT: '3457' },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  return new Promise((done, fail) => {
    child.once('exit', () => fail(new Error('the demo did not start')));
    child.stdout.on('data', (text: Buffer) => {
      if (/Ctrl-C ends it/.test(text.toString()))
        done({ origin: 'http://localhost:3457', stop: () => void child.kill('SIGINT') });
    });
  });
}
