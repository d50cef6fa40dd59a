import { mkdir, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { convert, type ConvertLimits } from './convert';
import { hasSpareConverter } from './spare-converter';

export interface WarmConverterOptions {
  /** A model to publish for practice, as IFC text. */
  sample: () => string;
  /** For the sample and what becomes of it; emptied afterwards. */
  folder: string;
  /** Those of the files to come. */
  limits: ConvertLimits;
  /** How long nothing is published before it practises. */
  quietMs?: number;
}

const QUIET_MS = 4000;
/** Times that the sample is published: the first shows what is hot, the second what was compiled for too few cases. */
export const PRACTICE_ROUNDS = 2;

/**
 * Sees to it that a file finds a process that has compiled what publishing needs: where none waits, because the worker has
 * just begun or the last one had to be ended, one publishes a sample a few times while nothing else is done.
 */
export class WarmConverter {
  private inHand = 0;
  private quiet: NodeJS.Timeout | null = null;
  private practice: AbortController | null = null;
  private isOver = false;

  constructor(private readonly options: WarmConverterOptions) {
    this.wait();
  }

  /** Publishes a file, or does what ends in it; practice gives way to it. */
  async during<T>(work: () => Promise<T>): Promise<T> {
    this.inHand++;
    this.pause();
    try {
      return await work();
    } finally {
      this.inHand--;
      this.wait();
    }
  }

  /** Practises no more. */
  end(): void {
    this.isOver = true;
    this.pause();
  }

  private wait(): void {
    if (this.isOver || this.inHand > 0 || this.practice) return;
    if (this.quiet) clearTimeout(this.quiet);
    this.quiet = setTimeout(() => void this.practise(), this.options.quietMs ?? QUIET_MS).unref();
  }

  private pause(): void {
    if (this.quiet) clearTimeout(this.quiet);
    this.practice?.abort();
  }

  private async practise(): Promise<void> {
    const { sample, folder, limits } = this.options;
    if (hasSpareConverter(limits.memoryMb)) return;
    const practice = new AbortController();
    this.practice = practice;
    const own = join(folder, `practice-${process.pid}`);
    try {
      await mkdir(own, { recursive: true });
      const path = join(own, 'sample.ifc');
      await writeFile(path, sample());
      for (let round = 0; round < PRACTICE_ROUNDS; round++)
        await convert({ path, fileName: 'sample.ifc', outFolder: join(own, 'out'), limits, signal: practice.signal });
      // Where no file has just taken it, such a process is heavier than what these limits allow to keep: it would be the
      // same each time.
      if (!practice.signal.aborted && !hasSpareConverter(limits.memoryMb)) this.isOver = true;
    } catch (error) {
      if (!practice.signal.aborted) {
        this.isOver = true;
        process.stderr.write(`no converter is kept ready: ${(error as Error).message}\n`);
      }
    } finally {
      this.practice = null;
      await rm(own, { recursive: true, force: true }).catch((error: Error) =>
        process.stderr.write(`sample not removed: ${error.message}\n`),
      );
      this.wait();
    }
  }
}
