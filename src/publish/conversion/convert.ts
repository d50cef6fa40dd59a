import { readFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import type { PublishPhase } from '@/core/jobs/phase';
import type { PublishSettings } from '@/core/project/publish-settings';
import type { PublishReport } from '@/core/project/publish-report';
import { ModelFileError } from '@/formats/model-file-error';
import { giveBack, takeConverter } from './spare-converter';

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
  onProgress?: (phase: PublishPhase, share: number) => void;
  /** Stops it in the middle. */
  signal?: AbortSignal;
}

const LOOK_MS = 250;

/**
 * Publishes a file into a folder in another process, so that a hostile or huge file fails alone, with a reason. Not a
 * thread: the reader's WebAssembly memory counts for nothing in a thread's limits, and only a process can be stopped in
 * the middle of a WebAssembly loop. A process that has published a file without a complaint is kept for the next.
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
  const converter = takeConverter(limits.memoryMb);
  let refusal: ModelFileError | null = null;
  const stop = (reason: string) => {
    refusal ??= new ModelFileError('too-large', reason);
    converter.kill();
  };
  const deadline = setTimeout(
    () => stop(`Publishing “${fileName}” took longer than ${limits.minutes} minutes and was stopped.`),
    limits.minutes * 60_000,
  );
  const watch = setInterval(() => {
    void converter.residentMegabytes().then((megabytes) => {
      if (megabytes - converter.restingMb > limits.memoryMb)
        stop(`Publishing “${fileName}” needed more than ${limits.memoryMb} MB of memory and was stopped.`);
    });
  }, LOOK_MS);
  const abort = () => stop(`Publishing “${fileName}” was stopped.`);
  signal?.addEventListener('abort', abort, { once: true });
  if (signal?.aborted) abort(); // before it could be heard
  const order = { path: resolve(path), fileName, outFolder: resolve(outFolder), settings, discipline };
  try {
    const ended = await converter.run(order, (message) => {
      if (message.kind === 'progress') onProgress?.(message.phase, message.share);
      else if (message.kind === 'refused') refusal = new ModelFileError(message.problem, message.reason);
    });
    // What a file that is refused has left behind in the process is not to meet the next one.
    if (ended === null) await (refusal ? converter.kill() : giveBack(converter));
    if (refusal) throw refusal as ModelFileError;
    if (ended !== null) throw collapse(fileName, converter.noise);
  } finally {
    clearTimeout(deadline);
    clearInterval(watch);
    signal?.removeEventListener('abort', abort);
  }
  return JSON.parse(await readFile(join(outFolder, 'report.json'), 'utf8')) as PublishReport;
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
