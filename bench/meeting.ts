import { fork, type ChildProcess } from 'node:child_process';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { io } from 'socket.io-client';
import { createDatabase, removeCluster, startCluster } from '@/db/cluster';
import { migrateDatabase } from '@/db/migrate';
import { round, summarise, tell } from './measure';
import type { CrowdOrder, CrowdReport } from './meeting-crowd';
import { now } from './monotonic';

/** The lead moves the view this often, and now and then settles it. */
const HERTZ = 20;
const SETTLE_EVERY = 10;
const SECONDS = 10;

/** How long it takes until everybody sees what the lead does, while so many of the others move, and one in ten of these draws. */
const { values } = parseArgs({
  allowPositionals: true,
  options: { runs: { type: 'string' }, people: { type: 'string' } },
});
const people = Number(values.people ?? 100);
const runs = Number(values.runs ?? 3);
const folder = await mkdtemp(join(tmpdir(), 'yurta-bench-'));
const cluster = await startCluster(join(folder, 'cluster'));
const children: ChildProcess[] = [];
try {
  process.env.DATABASE_URL = await createDatabase(cluster.url, 'meeting');
  process.env.YURTA_DATA = folder;
  process.env.YURTA_MAX_PARTICIPANTS = String(people + 1);
  await migrateDatabase(process.env.DATABASE_URL);
  const { lead, meeting, cookies } = await gather();
  const node = child('meeting-node.ts');
  const { port } = await heard<{ port: number }>(node);
  const url = `http://127.0.0.1:${port}`;
  const crowd = child('meeting-crowd.ts');
  order(crowd, { order: 'join', url, meeting, cookies });
  const socket = io(url, { path: '/live', transports: ['websocket'], extraHeaders: { cookie: lead }, forceNew: true });
  await new Promise<void>((done) => socket.on('connect', done));
  await socket.timeout(30_000).emitWithAck('meet', { id: meeting });
  await heard(crowd);

  for (const moving of [0, Math.round(people / 2), people]) {
    let [hints, events, growing]: [number[], number[], number[]] = [[], [], []];
    let messages = 0;
    for (let run = 0; run < runs; run++) {
      order(crowd, { order: 'move', moving });
      await steer();
      await new Promise((done) => setTimeout(done, 1000));
      order(crowd, { order: 'report' });
      const report = (await heard(crowd)) as Extract<CrowdReport, { moving: number[] }>;
      hints = hints.concat(report.moving);
      events = events.concat(report.settled);
      growing = growing.concat(report.growing);
      messages += report.gatheredMessages;
    }
    tell('meeting', `${people} people, ${moving} moving`, {
      hints: spread(hints),
      settled: spread(events),
      drawn: spread(growing),
      hintsArrived: round(hints.length / (HERTZ * SECONDS * runs * people), 2),
      gatheredMessagesPerPersonAndSecond: round(messages / people / (SECONDS + 1) / runs, 1),
      runs,
    });
  }

  /** The lead turns for a while. */
  async function steer(): Promise<void> {
    const camera = () => ({ position: [now(), 0, 0], target: [0, 1, 0], fov: 50 });
    for (let step = 0; step < HERTZ * SECONDS; step++) {
      if (step % (SETTLE_EVERY * 2) === SETTLE_EVERY)
        void socket.timeout(10_000).emitWithAck('act', { type: 'view-changed', change: { camera: camera() } });
      socket.volatile.emit('view-moving', { change: { camera: camera() } });
      await new Promise((done) => setTimeout(done, 1000 / HERTZ));
    }
  }
} finally {
  for (const one of children) one.disconnect();
  const { closeConnection } = await import('@/db/database');
  await closeConnection();
  await cluster.stop();
  removeCluster(join(folder, 'cluster'));
  await rm(folder, { recursive: true, force: true });
}
process.exit();

function child(file: string): ChildProcess {
  const made = fork(join(import.meta.dirname, file), { execArgv: process.execArgv, env: process.env });
  children.push(made);
  return made;
}

function order(crowd: ChildProcess, message: CrowdOrder): void {
  crowd.send(message);
}

function heard<T = CrowdReport>(from: ChildProcess): Promise<T> {
  return new Promise((done, fail) => {
    from.once('message', (message) => done(message as T));
    from.once('exit', () => fail(new Error('a process of the meeting ended early')));
  });
}

/** A project with a meeting, its lead and its guests. */
async function gather() {
  const { createProject } = await import('@/server/projects/projects');
  const { startMeeting } = await import('@/server/review/meetings');
  const { createLink, enterByLink } = await import('@/server/access/links');
  const { testAccount } = await import('@/server/test-people');
  const { GUEST_COOKIE } = await import('@/server/access/access');
  const lead = await testAccount('Lead');
  const project = await createProject(lead.actor, 'Meeting', '');
  const { id } = await startMeeting(lead.actor, project, 'Round');
  const { url } = await createLink(lead.actor, project, 'http://localhost', { right: 'comment', label: 'All' });
  const cookies: string[] = [];
  for (let i = 0; i < people; i++) {
    const { secret } = await enterByLink(url.split('/l/')[1]!, `Guest ${i}`);
    cookies.push(`${GUEST_COOKIE}=${secret}`);
  }
  return { lead: lead.cookie, meeting: id, cookies };
}

function spread(values: number[]) {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const { median } = summarise(values);
  const p99 = sorted[Math.floor(sorted.length * 0.99)]!;
  return { medianMs: round(median, 1), p99Ms: round(p99, 1), mostMs: round(sorted.at(-1)!, 1), count: values.length };
}
