import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { readdir, readFile, rename, stat, writeFile } from 'node:fs/promises';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { watch, type FSWatcher } from 'chokidar';
import { comesInParts, isModelFile, isPartFile } from '@/core/project/incoming-file';
import { partsBeside, withOneFile } from './model-parts';
import { sentence } from './publish-remote';
import { RemoteError, type Publication, type Remote } from './remote';

export interface WatchOptions extends Publication {
  /** A file that has not changed for so long is whole, in milliseconds. */
  settleMs: number;
  /** Where the server is away, try again after so long, in milliseconds. */
  retryMs: number;
  say: (line: string) => void;
  complain: (line: string) => void;
}

/** What was sent already, by path within the folder: the mark of the files as they were. */
type Ledger = Record<string, string>;
const LEDGER = '.yurta-watch.json';

/**
 * Publishes the model files of a folder as they settle: those that are new or changed since they were last sent, now and
 * whenever one is saved. What was sent is remembered in the folder itself, so that it can end and begin again.
 */
export class FolderWatch {
  private readonly folder: string;
  private readonly waiting = new Set<string>();
  private watcher: FSWatcher | null = null;
  private ledger: Ledger = {};
  private work: Promise<void> = Promise.resolve();
  private ended = false;

  constructor(
    folder: string,
    private readonly remote: Remote,
    private readonly options: WatchOptions,
  ) {
    this.folder = resolve(folder);
  }

  /** @throws RemoteError if there is no such folder */
  async start(): Promise<void> {
    if (!existsSync(this.folder) || !(await stat(this.folder)).isDirectory())
      throw new RemoteError(`“${this.folder}” is no folder.`, false);
    this.ledger = await readLedger(this.folder);
    this.watcher = watch(this.folder, {
      awaitWriteFinish: {
        stabilityThreshold: this.options.settleMs,
        pollInterval: Math.min(200, this.options.settleMs),
      },
      ignored: (path) => basename(path).startsWith('.') && path !== this.folder,
    });
    this.watcher.on('all', (event, path) => {
      if (event === 'add' || event === 'change') void this.settled(path);
    });
    this.watcher.on('error', (error) => this.options.complain(`the folder cannot be watched: ${String(error)}`));
    await new Promise<void>((ready) => this.watcher!.once('ready', ready));
  }

  /** Ends, after what is being sent just now. */
  async stop(): Promise<void> {
    this.ended = true;
    await this.watcher?.close();
    await this.work;
  }

  private async settled(path: string): Promise<void> {
    if (isModelFile(path)) this.enqueue(path);
    else if (isPartFile(path)) {
      // A part that changed is sent with the models beside it, or above it, that name it.
      for (let at = dirname(path); at.startsWith(this.folder); at = dirname(at))
        for (const name of await readdir(at)) if (comesInParts(name)) this.enqueue(join(at, name));
    }
  }

  private enqueue(path: string): void {
    if (this.waiting.has(path) || this.ended) return;
    this.waiting.add(path);
    this.work = this.work.then(async () => {
      this.waiting.delete(path);
      if (!this.ended) await this.send(path);
    });
  }

  /** Sends one file and waits for its end, as often as it takes to reach the server. */
  private async send(path: string): Promise<void> {
    const name = relative(this.folder, path);
    try {
      const parts = await partsBeside(path);
      const mark = await markOf([path, ...parts]);
      if (this.ledger[name] === mark) return;
      this.options.say(`${name}: sending`);
      const revisionId = await withOneFile({ main: path, parts }, (file) => this.remote.publish(file, this.options));
      this.ledger[name] = mark;
      await writeLedger(this.folder, this.ledger);
      this.options.say(`${name}: ${sentence(await this.remote.outcome(revisionId, () => undefined))}`);
    } catch (error) {
      this.options.complain(`${name}: ${error instanceof Error ? error.message : String(error)}`);
      if (!(error instanceof RemoteError) || !error.passing || this.ended) return;
      this.options.complain(`${name}: trying again in ${Math.round(this.options.retryMs / 1000)} s`);
      setTimeout(() => this.enqueue(path), this.options.retryMs).unref();
    }
  }
}

/** Tells one state of files from another by their sizes and times. */
async function markOf(files: string[]): Promise<string> {
  const hash = createHash('sha256');
  for (const file of files) {
    const { size, mtimeMs } = await stat(file);
    hash.update(`${basename(file)}\0${size}\0${mtimeMs}\0`);
  }
  return hash.digest('base64url').slice(0, 22);
}

async function readLedger(folder: string): Promise<Ledger> {
  const path = join(folder, LEDGER);
  if (!existsSync(path)) return {};
  try {
    return JSON.parse(await readFile(path, 'utf8')) as Ledger;
  } catch {
    throw new RemoteError(`${path} cannot be read. Remove it to send all files of the folder again.`, false);
  }
}

/** Under another name first, so that an end in the middle leaves the old one whole. */
async function writeLedger(folder: string, ledger: Ledger): Promise<void> {
  const path = join(folder, LEDGER);
  await writeFile(`${path}.part`, JSON.stringify(ledger, null, 2));
  await rename(`${path}.part`, path);
}
