import { spawn, type ChildProcess } from 'node:child_process';
import { statSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { PublishStage } from '@/core/jobs/stage';
import type { PublishSettings } from '@/core/project/publish-settings';
import type { PublishReport } from '@/core/project/publish-report';
import { ModelFileError } from '@/formats/model-file-error';
import type { ConvertMessage } from './convert-process';
import { dieWithParent } from './die-with-parent';

export interface ConvertLimits {
  minutes: number;
  memoryMb: number;
}

export interface Conversion {
  /** Where the file lies. */
  path: string;
  /** The name the user gave it. */
  fileName: string;
  /** Gets the revision's files and `properties.json`. */
  outFolder: string;
  limits: ConvertLimits;
  /** Of elements whose file does not say it. */
  discipline?: string;
  settings?: PublishSettings;
  onProgress?: (stage: PublishStage, share: number) => void;
  /** Stops it in the middle. */
  signal?: AbortSignal;
}

const LOOK_MS = 250;
/** From so many bytes on it is memory that may run short, not time. */
const LARGE = 60e6;

/**
 * Node's flags for the process: memory is collected where the reader says so and, with a large file, when it has grown by
 * two fifths instead of up to fourfold: a twentieth less at the peak, for as much more time.
 *
 * @param bytes of the file
 */
export function thriftyHeap(bytes: number): string[] {
  return ['--expose-gc', ...(bytes >= LARGE ? ['--heap-growing-percent=40'] : [])];
}
/** Has the C library hand freed memory back instead of keeping a store for every thread: a tenth less at the peak. */
export const THRIFTY = { MALLOC_ARENA_MAX: '2', MALLOC_MMAP_THRESHOLD_: '1048576', MALLOC_TRIM_THRESHOLD_: '1048576' };

/**
 * Publishes a file into a folder in a process of its own, so that a hostile or huge file fails alone, with a reason. Not
 * a thread: the reader's WebAssembly memory counts for nothing in a thread's limits, and only a process can be stopped
 * in the middle of a WebAssembly loop.
 *
 * @throws ModelFileError if the file cannot be published, takes too long, needs too much memory or is stopped
 */
export async function convert({
  path,
  fileName,
  outFolder,
  limits,
  discipline = '',
  settings = {},
  onProgress,
  signal,
}: Conversion): Promise<PublishReport> {
  const args = [resolve(path), fileName, resolve(outFolder), JSON.stringify(settings), discipline];
  // A file that is not there is for the process to tell of.
  const bytes = statSync(path, { throwIfNoEntry: false })?.size ?? 0;
  const child = startProcess(args, bytes, limits.memoryMb);
  let refusal: ModelFileError | null = null;
  const stop = (reason: string) => {
    refusal ??= new ModelFileError('too-large', reason);
    child.kill('SIGKILL');
  };
  const deadline = setTimeout(
    () => stop(`Publishing “${fileName}” took longer than ${limits.minutes} minutes and was stopped.`),
    limits.minutes * 60_000,
  );
  const watch = setInterval(() => {
    void residentMegabytes(child).then((megabytes) => {
      if (megabytes > limits.memoryMb)
        stop(`Publishing “${fileName}” needed more than ${limits.memoryMb} MB of memory and was stopped.`);
    });
  }, LOOK_MS);
  const abort = () => stop(`Publishing “${fileName}” was stopped.`);
  signal?.addEventListener('abort', abort, { once: true });
  let noise = '';
  child.stderr?.on('data', (chunk: Buffer) => (noise = (noise + chunk.toString()).slice(-4000)));
  child.on('message', (message: ConvertMessage) => {
    if (message.kind === 'progress') onProgress?.(message.stage, message.share);
    else refusal = new ModelFileError(message.problem, message.reason);
  });
  try {
    const code = await new Promise<number | null>((done, fail) => {
      child.on('error', fail);
      child.on('exit', done);
    });
    if (refusal) throw refusal as ModelFileError;
    if (code !== 0) throw collapse(fileName, noise);
  } finally {
    clearTimeout(deadline);
    clearInterval(watch);
    signal?.removeEventListener('abort', abort);
  }
  return JSON.parse(await readFile(join(outFolder, 'report.json'), 'utf8')) as PublishReport;
}

function startProcess(args: string[], bytes: number, memoryMb: number): ChildProcess {
  // The start command has built it into one file; elsewhere it runs from its source.
  const built = process.env.YURTA_CONVERTER;
  const program = built
    ? [built]
    : ['--import', 'tsx', fileURLToPath(new URL('./convert-process.ts', import.meta.url))];
  const heap = `--max-old-space-size=${Math.ceil(memoryMb)}`;
  const [command, ...rest] = dieWithParent([process.execPath, heap, ...thriftyHeap(bytes), ...program, ...args]);
  return spawn(command, rest, {
    cwd: process.env.YURTA_HOME ?? process.cwd(), // from there Node finds the TypeScript loader
    env: { ...process.env, ...THRIFTY },
    stdio: ['ignore', 'ignore', 'pipe', 'ipc'],
  });
}

/** What the process holds in memory, from Linux's process table; 0 where that is not to be had. */
async function residentMegabytes(child: ChildProcess): Promise<number> {
  try {
    const status = await readFile(`/proc/${child.pid}/status`, 'utf8');
    return Number(/^VmRSS:\s+(\d+) kB/m.exec(status)?.[1] ?? 0) / 1024;
  } catch {
    return 0; // it has ended meanwhile
  }
}

function collapse(fileName: string, noise: string): Error {
  if (/\b(ENOSPC|EDQUOT)\b/.test(noise))
    return new ModelFileError(
      'no-room',
      `There was no room left on the server’s disk for what “${fileName}” becomes. Ask the administrator to make room, then try again.`,
    );
  if (/heap out of memory/i.test(noise))
    return new ModelFileError(
      'too-large',
      `Publishing “${fileName}” needed more memory than it may have and was stopped.`,
    );
  process.stderr.write(`the conversion of ${fileName} broke off:\n${noise}\n`);
  return new ModelFileError(
    'damaged',
    `“${fileName}” made the converter stop unexpectedly. Try again; if it happens twice, the file is damaged in a way that Yurta does not know yet.`,
  );
}
