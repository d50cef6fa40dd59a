import { spawn, type ChildProcess } from 'node:child_process';
import { appendFileSync, existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import getPort from 'get-port';
import { startCluster, type Cluster } from '@/db/cluster';
import { freePort } from '@/db/free-port';
import { migrateDatabase } from '@/db/migrate';
import { dieWithParent } from '@/publish/conversion/die-with-parent';
import { keyedHash } from '@/server/config';

const READY_MS = 60_000;
/** A process that ended by itself is started again at once; each further time within a minute twice as long later. */
const RESTART_MS = 250;
const WATCH_MS = 1000;
const COMPLAIN_MS = 60_000;
/** As much of what a process that did not start said is repeated, in characters. */
const LAST_WORDS = 1000;
/** A process that ends more often than this within a minute is not started again. */
const RESTARTS_A_MINUTE = 5;

interface Program {
  name: string;
  /** What Node.js is given. */
  command: string[];
  /** Called when it answers. */
  answer(): void;
  /** Called when it is not started again. @param words what it said last */
  fail(words: string): void;
}

/**
 * The processes of one installation: database, web node, worker. A web node or worker that ends by itself is started
 * again; meetings and jobs go on from the database. Ends all that it started.
 */
export class Supervisor {
  private cluster: Cluster | null = null;
  private readonly children = new Set<ChildProcess>();
  private readonly listening: Promise<void>[] = [];
  private giveUp: () => void = () => undefined;
  private stopping = false;
  /** When it may be said again that a log cannot be written, in milliseconds since 1970. */
  private nextComplaint = 0;
  private upkeep: Promise<void> | null = null;
  private watch: NodeJS.Timeout | undefined;

  constructor(
    private readonly home: string,
    private readonly dataFolder: string,
  ) {}

  /** Starts the private database, or takes the one that DATABASE_URL names, and brings it up to date. */
  async database(): Promise<void> {
    if (!process.env.DATABASE_URL) {
      this.cluster = await startCluster(this.dataFolder);
      process.env.DATABASE_URL = this.cluster.url;
      this.watch = setInterval(() => this.keepDatabase(), WATCH_MS);
    }
    await migrateDatabase(process.env.DATABASE_URL);
  }

  /** Another node of this checkout may have started the database and end it when it ends: then this one takes over. */
  private keepDatabase(): void {
    if (this.stopping || this.upkeep || !this.cluster) return;
    this.upkeep = this.cluster
      .keepUp()
      .catch((error: Error) => console.error(`the database is away: ${error.message}`))
      .finally(() => (this.upkeep = null));
  }

  /** The port to answer on: PORT if given, otherwise the first free one from 3210. */
  async choosePort(): Promise<number> {
    const host = process.env.HOST ?? '127.0.0.1';
    const wanted = process.env.PORT ? Number(process.env.PORT) : undefined;
    const port = await getPort({ host, port: wanted ?? Array.from({ length: 40 }, (_, i) => 3210 + i) });
    if (wanted !== undefined && port !== wanted) throw new Error(`Port ${wanted} is in use. Set PORT to a free one.`);
    process.env.PORT = String(port);
    return port;
  }

  /** The web node. It and workers are run from the folder that YURTA_SERVER names. */
  web(): void {
    this.serve('web', bundled('gateway'));
  }

  /**
   * Waits until all servers that were started answer.
   *
   * @throws Error that names the first that ends or is silent for a minute instead, and its log
   */
  async untilListening(): Promise<void> {
    await Promise.all(this.listening);
  }

  workers(count: number): void {
    for (let i = 1; i <= count; i++)
      this.keep({ name: i === 1 ? 'worker' : `worker-${i}`, command: bundled('worker'), answer: () => undefined, fail: () => undefined }, []); // prettier-ignore
  }

  /** Starts the stand-in mail server, unless this installation has a real one, and tells all others of it. */
  async mailServer(): Promise<void> {
    if (process.env.YURTA_SMTP_URL) return;
    const port = await freePort();
    const folder = join(this.dataFolder, 'outbox');
    this.serve('outbox', this.standIn('mail', String(port), folder));
    process.env.YURTA_SMTP_URL = `smtp://127.0.0.1:${port}`;
    process.env.YURTA_OUTBOX = folder;
  }

  /** Starts the stand-in model store, unless this installation has a real one. Returns its address, null if not started. */
  async modelStore(): Promise<string | null> {
    if (process.env.YURTA_STORE_URL) return null;
    const port = await this.keptPort('model-store');
    const folder = join(this.dataFolder, 'model-store');
    const client = 'yurta';
    process.env.YURTA_STORE_URL = `http://127.0.0.1:${port}`;
    process.env.YURTA_STORE_NAME = 'Sample store';
    process.env.YURTA_STORE_CLIENT_ID = client;
    process.env.YURTA_STORE_CLIENT_SECRET = keyedHash('model store', 'client');
    this.serve('model-store', this.standIn('store', String(port), folder, client, 'Yurta'));
    return process.env.YURTA_STORE_URL;
  }

  /** Starts the stand-in issue tracker. Returns its address and its token. */
  async issueTracker(): Promise<{ url: string; token: string }> {
    const port = await this.keptPort('issue-tracker');
    const token = keyedHash('issue tracker', 'token');
    process.env.YURTA_TRACKER_TOKEN = token;
    const folder = join(this.dataFolder, 'issue-tracker');
    this.serve('issue-tracker', this.standIn('tracker', String(port), folder));
    return { url: `http://127.0.0.1:${port}`, token };
  }

  /** The port that a stand-in had before, as long as that is free: others have noted its address. */
  private async keptPort(name: string): Promise<number> {
    const kept = join(this.dataFolder, `${name}.port`);
    const before = existsSync(kept) ? Number(readFileSync(kept, 'utf8')) : undefined;
    const port = await freePort(before);
    writeFileSync(kept, String(port));
    return port;
  }

  /** Waits until the user or the system asks to end, or a process fails again and again. */
  async untilStopped(): Promise<void> {
    await new Promise<void>((done) => {
      this.giveUp = done;
      process.once('SIGINT', () => done());
      process.once('SIGTERM', () => done());
    });
  }

  async stop(): Promise<void> {
    this.stopping = true;
    clearInterval(this.watch);
    const running = [...this.children];
    const runs = running.filter((child) => child.exitCode === null && child.signalCode === null);
    const ended = runs.map((child) => new Promise((done) => child.once('exit', done)));
    for (const child of running) child.kill('SIGTERM');
    const patience = setTimeout(() => running.forEach((child) => child.kill('SIGKILL')), 8000);
    await Promise.all(ended);
    clearTimeout(patience);
    await this.upkeep;
    await this.cluster?.stop();
  }

  private log(name: string): string {
    return join(this.dataFolder, 'logs', `${name}.log`);
  }

  /** A log that cannot be written, such as on a full disk, must not end the installation: what there is to say is left out. */
  private append(name: string, chunk: Buffer): void {
    try {
      appendFileSync(this.log(name), chunk);
    } catch (error) {
      if (Date.now() < this.nextComplaint) return;
      this.nextComplaint = Date.now() + COMPLAIN_MS;
      console.error(`${this.log(name)} cannot be written: ${(error as Error).message}`);
    }
  }

  private standIn(...args: string[]): string[] {
    return [...process.execArgv, join(this.home, 'src/cli/main.ts'), 'stand-in', ...args];
  }

  /** Starts what says “listening on” as soon as it answers. */
  private serve(name: string, command: string[]): void {
    const listening = new Promise<void>((ready, fail) => {
      const timer = setTimeout(() => fail(new Error(`it did not answer within a minute`)), READY_MS);
      const settle = (then: () => void) => (clearTimeout(timer), then());
      this.keep(
        { name, command, answer: () => settle(ready), fail: (words) => settle(() => fail(new Error(words))) },
        [],
      );
    }).catch((error: Error) => {
      throw new Error(`The process “${name}” did not start; see ${this.log(name)}. ${error.message}`);
    });
    listening.catch(() => undefined); // told to whoever waits for it
    this.listening.push(listening);
  }

  /** @param ends when it ended by itself before, in milliseconds */
  private keep(program: Program, ends: number[]): void {
    const { name, command } = program;
    const child = this.spawn(name, command);
    this.children.add(child);
    child.stdout!.on('data', (chunk: Buffer) => chunk.toString().includes('listening on') && program.answer());
    let words = '';
    child.stderr!.on('data', (chunk: Buffer) => (words = (words + chunk.toString()).slice(-LAST_WORDS)));
    child.once('close', (code, signal) => {
      this.children.delete(child);
      if (this.stopping) return;
      const now = Date.now();
      const recent = [...ends.filter((time) => now - time < 60_000), now];
      console.error(`${name} ended unexpectedly (${signal ?? `code ${code}`}); see ${this.log(name)}`);
      if (recent.length > RESTARTS_A_MINUTE) {
        program.fail(`It said:\n${words.trim()}`);
        process.exitCode = 1;
        this.giveUp();
      } else
        setTimeout(() => !this.stopping && this.keep(program, recent), RESTART_MS * (2 ** (recent.length - 1) - 1));
    });
  }

  private spawn(name: string, command: string[]): ChildProcess {
    mkdirSync(join(this.dataFolder, 'logs'), { recursive: true });
    // Detached, so that Ctrl-C reaches the supervisor first and it can end things in order.
    const [program, ...rest] = dieWithParent([process.execPath, ...command]);
    const child = spawn(program, rest, {
      cwd: this.home,
      detached: true,
      env: { ...process.env, NODE_ENV: 'production' },
      stdio: ['ignore', 'pipe', 'pipe'],
    });
    const append = (chunk: Buffer) => this.append(name, chunk);
    child.stdout!.on('data', append);
    child.stderr!.on('data', append);
    return child;
  }
}

/** A program of the server, as the start command has bundled it. */
function bundled(name: string): string[] {
  return [join(process.env.YURTA_SERVER!, `${name}.mjs`)];
}
