import { spawn, type ChildProcess } from 'node:child_process';
import { readdirSync, readFileSync } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { seededRandom } from '@/demo/library/plan';
import { removeCluster } from '@/db/cluster';
import { freePort } from '@/db/free-port';
import { tell } from './measure';
import { againWithOwnDisk, fillDisk, ownDisk } from './soak-disk';
import { SoakMeeting, SoakPublisher, SoakSpeaker, type Soaker } from './soak-people';

/**
 * Publishing, saying and two meetings over two nodes, while processes are killed at random and once the disk is full: nothing that
 * was accepted is lost or there twice, and all come back. The order of kills follows from the seed.
 */
const inItsPlace = againWithOwnDisk();
if (inItsPlace !== null) process.exit(inItsPlace);
const { values } = parseArgs({
  allowPositionals: true,
  options: {
    minutes: { type: 'string', default: '20' },
    kills: { type: 'string', default: '50' },
    seed: { type: 'string', default: '1' },
    runs: { type: 'string' },
  },
});
const [minutes, kills, seed] = [Number(values.minutes), Number(values.kills), Number(values.seed)];
const QUIET_MS = 120_000;
const PASSWORD = 'long enough for this';

/** For so long the disk is full, if it is a disk of its own. */
const FULL_MS = 15_000;

const disk = ownDisk();
const folder = disk ?? (await mkdtemp(join(tmpdir(), 'yurta-soak-')));
const home = process.cwd();
const environment = { ...process.env, YURTA_DATA: folder, DATABASE_URL: undefined, YURTA_SECRET: undefined };
const random = seededRandom(seed);
const supervisors: ChildProcess[] = [];

try {
  const [a, b] = [await freePort(), await freePort()];
  supervisors.push(await start(a));
  await command(['account', 'lead@soak.example', '--name', 'Lead', '--password', PASSWORD]);
  supervisors.push(await start(b));
  const servers = [a, b].map((port) => `http://localhost:${port}`) as [string, string];

  const people: Soaker[] = [];
  for (let i = 0; i < 2; i++) people.push(await SoakMeeting.begin(servers, PASSWORD, `Meeting ${i + 1}`));
  people.push(await SoakSpeaker.begin(servers, PASSWORD), await SoakPublisher.begin(servers, PASSWORD, folder));
  const memory = [webMemory()];
  const work = people.map((one) => one.work());

  const end = Date.now() + minutes * 60_000;
  const killed: Record<string, number> = {};
  for (let i = 0; i < kills; i++) {
    await sleep(((end - Date.now()) / (kills - i)) * (0.5 + random()));
    if (disk && i === Math.floor(kills / 2)) {
      const makeRoom = fillDisk(disk);
      await sleep(FULL_MS);
      makeRoom();
    }
    const what = ['web', 'worker', 'database'][Math.floor(random() * 3)]!;
    if (kill(what)) killed[what] = (killed[what] ?? 0) + 1;
    memory.push(webMemory());
  }
  await sleep(Math.max(0, end - Date.now()));
  people.forEach((one) => one.rest());
  await Promise.all(work);
  const settled = Date.now() + QUIET_MS;
  for (const one of people) await one.settle(settled);
  memory.push(webMemory());

  let faults = 0;
  for (const one of people) {
    const report = await one.report();
    faults += report.lost + report.doubled;
    tell('soak', one.name, { ...report });
  }
  tell('soak', 'whole', {
    minutes,
    seed,
    killed,
    webMemoryMb: { first: memory[0]!, most: Math.max(...memory), last: memory.at(-1)! },
    fullDiskSeconds: disk ? FULL_MS / 1000 : 'this machine allows no disk of its own',
    faults,
  });
  process.exitCode = faults > 0 ? 1 : 0;
} finally {
  for (const supervisor of supervisors) supervisor.kill('SIGINT');
  await Promise.all(supervisors.map((one) => new Promise((done) => (one.exitCode === null ? one.once('exit', done) : done(null))))); // prettier-ignore
  removeCluster(folder); // it may lie elsewhere
  if (!disk) await rm(folder, { recursive: true, force: true });
}

/** Starts an installation's node by its own start command. */
function start(port: number): Promise<ChildProcess> {
  const child = spawn(join(home, 'yurta'), ['start'], {
    cwd: home,
    env: { ...environment, PORT: String(port) },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  return new Promise((ready, fail) => {
    let said = '';
    child.stdout.on('data', (chunk: Buffer) => {
      said += chunk.toString();
      if (said.includes('Ctrl-C ends it')) ready(child);
    });
    child.once('exit', (code) => fail(new Error(`the node on port ${port} ended with ${code}: ${said.slice(-500)}`)));
  });
}

function command(args: string[]): Promise<void> {
  const child = spawn(join(home, 'yurta'), args, {
    cwd: home,
    env: environment,
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  return new Promise((done, fail) =>
    child.once('exit', (code) => (code === 0 ? done() : fail(new Error(`yurta ${args[0]} ended with ${code}`)))),
  );
}

/** Kills one process of a kind that belongs to this installation. Returns false if there is none just now. */
function kill(what: string): boolean {
  const pids = what === 'database' ? databasePid() : processes(what === 'web' ? 'gateway.mjs' : 'worker.mjs');
  const pid = pids[Math.floor(random() * pids.length)];
  if (pid === undefined) return false;
  try {
    process.kill(pid, 'SIGKILL');
    return true;
  } catch {
    return false; // it ended by itself
  }
}

function databasePid(): number[] {
  try {
    return [Number(readFileSync(join(folder, 'postgres', 'postmaster.pid'), 'utf8').split('\n')[0])];
  } catch {
    return []; // it is starting
  }
}

/** Process ids of this installation whose command holds some words, from Linux's process table. */
function processes(words: string): number[] {
  return readdirSync('/proc')
    .filter((name) => /^\d+$/.test(name))
    .filter((pid) => {
      try {
        const line = readFileSync(`/proc/${pid}/cmdline`, 'utf8').replaceAll('\0', ' ');
        return line.includes(words) && readFileSync(`/proc/${pid}/environ`, 'utf8').split('\0').includes(`YURTA_DATA=${folder}`); // prettier-ignore
      } catch {
        return false; // it ended while we looked
      }
    })
    .map(Number);
}

/** What the web nodes hold in memory together, in MB. */
function webMemory(): number {
  const pages = processes('gateway.mjs').map((pid) => {
    try {
      return Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]);
    } catch {
      return 0;
    }
  });
  return Math.round((pages.reduce((sum, one) => sum + one, 0) * 4096) / 1024 / 1024);
}

function sleep(milliseconds: number): Promise<void> {
  return new Promise((done) => setTimeout(done, milliseconds));
}
