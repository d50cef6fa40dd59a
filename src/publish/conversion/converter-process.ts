import { spawn, type ChildProcess } from 'node:child_process';
import { rmSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import type { Socket } from 'node:net';
import { fileURLToPath } from 'node:url';
import type { ConvertMessage, ConvertOrder } from './convert-process';
import { dieWithParent } from './die-with-parent';
import { makeScratch } from './scratch';

/** What a process says of its troubles is kept up to so many letters. */
const NOISE = 4000;

/** Node's flags for the process: memory is collected where the reader says so. */
export const COLLECTING = ['--expose-gc'];
/** Has the C library hand freed memory back instead of keeping a store for every thread: a tenth less at the peak. */
export const THRIFTY = { MALLOC_ARENA_MAX: '2', MALLOC_MMAP_THRESHOLD_: '1048576', MALLOC_TRIM_THRESHOLD_: '1048576' };

/** A process that publishes files, one after the other. */
export class ConverterProcess {
  /** Files that it has published. */
  published = 0;
  /** What it held in memory, in MB, when it began to wait for the file in hand. */
  restingMb = 0;
  /** What it wrote about troubles with the file in hand. */
  noise = '';
  private readonly child: ChildProcess;

  /** @param memoryMb that its JavaScript may take; the rest is watched by whoever uses it */
  constructor(readonly memoryMb: number) {
    this.child = startProcess(memoryMb);
    this.child.stderr!.on('data', (chunk: Buffer) => (this.noise = (this.noise + chunk.toString()).slice(-NOISE)));
  }

  /**
   * Publishes a file.
   *
   * @returns null when it is done, otherwise how the process ended instead
   * @throws Error if the process could not be started
   */
  run(order: ConvertOrder, onMessage: (message: ConvertMessage) => void): Promise<{ code: number | null } | null> {
    this.noise = '';
    this.hold();
    return new Promise((done, fail) => {
      const end = (then: () => void) => {
        this.child.off('message', hear).off('error', broke).off('exit', ended);
        then();
      };
      const hear = (message: ConvertMessage) => {
        if (message.kind !== 'done') return onMessage(message);
        this.published++;
        end(() => done(null));
      };
      const broke = (error: Error) => end(() => fail(error));
      const ended = (code: number | null) => end(() => done({ code }));
      this.child.on('message', hear).on('error', broke).on('exit', ended);
      // Where it cannot be sent, the process has ended or does so now, which is heard.
      this.child.send(order, () => undefined);
    });
  }

  /** Calls back when it ends by itself. */
  onEnd(callback: () => void): void {
    this.child.once('exit', callback);
  }

  /** What it holds in memory, from Linux's process table; 0 where that is not to be had. */
  async residentMegabytes(): Promise<number> {
    try {
      const status = await readFile(`/proc/${this.child.pid}/status`, 'utf8');
      return Number(/^VmRSS:\s+(\d+) kB/m.exec(status)?.[1] ?? 0) / 1024;
    } catch {
      return 0; // it has ended meanwhile
    }
  }

  kill(): void {
    this.child.kill('SIGKILL');
  }

  /** Lets the process that started it end while it waits for its next file. */
  release(): void {
    this.child.unref();
    this.child.channel?.unref();
    (this.child.stderr as Socket).unref();
  }

  private hold(): void {
    this.child.ref();
    this.child.channel?.ref();
    (this.child.stderr as Socket).ref();
  }
}

function startProcess(memoryMb: number): ChildProcess {
  // The start command has built it into one file; elsewhere it runs from its source.
  const built = process.env.YURTA_CONVERTER;
  const program = built
    ? [built]
    : ['--import', 'tsx', fileURLToPath(new URL('./convert-process.ts', import.meta.url))];
  const heap = `--max-old-space-size=${Math.ceil(memoryMb)}`;
  const [command, ...rest] = dieWithParent([process.execPath, heap, ...COLLECTING, ...program]);
  const scratch = makeScratch();
  const child = spawn(command, rest, {
    cwd: process.env.YURTA_HOME ?? process.cwd(), // from there Node finds the TypeScript loader
    env: { ...known(process.env), ...THRIFTY, TMPDIR: scratch },
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
  });
  // However it ends: what it has unpacked goes with it.
  child.once('exit', () => rmSync(scratch, { recursive: true, force: true }));
  return child;
}

/** What a converter needs to know of its surroundings: a file that takes it over must not find the keys of the house. */
function known(environment: NodeJS.ProcessEnv): NodeJS.ProcessEnv {
  const names = ['PATH', 'HOME', 'LANG', 'TZ', 'NODE_PATH', 'YURTA_HOME', 'YURTA_CONVERTER'];
  return {
    NODE_ENV: environment.NODE_ENV,
    ...Object.fromEntries(names.flatMap((name) => (environment[name] ? [[name, environment[name]]] : []))),
  };
}
