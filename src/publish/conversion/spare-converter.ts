import { ConverterProcess } from './converter-process';

/** One that holds more memory than this, or than this part of what it may have, is not kept. */
const KEPT_MB = 600;
const KEPT_SHARE = 1 / 8;
/** Nor is one that has published so many files: whatever piles up in it then goes. */
const MOST_FILES = 20;

let spare: ConverterProcess | null = null;

/**
 * A process to publish a file with: the one that has published the last, if it is still there and fits. What that has
 * compiled is quick from the beginning.
 */
export function takeConverter(memoryMb: number): ConverterProcess {
  if (spare?.memoryMb === memoryMb) {
    const kept = spare;
    spare = null;
    return kept;
  }
  const converter = new ConverterProcess(memoryMb);
  converter.onEnd(() => spare === converter && (spare = null));
  return converter;
}

/** Whether one waits that fits. */
export function hasSpareConverter(memoryMb: number): boolean {
  return spare?.memoryMb === memoryMb;
}

/** Keeps a process that has just published a file for the next one, or ends it. */
export async function giveBack(converter: ConverterProcess): Promise<void> {
  const megabytes = await converter.residentMegabytes();
  const isLight = megabytes > 0 && megabytes <= Math.min(KEPT_MB, converter.memoryMb * KEPT_SHARE);
  if (spare || !isLight || converter.published >= MOST_FILES) return converter.kill();
  converter.restingMb = megabytes;
  converter.release();
  spare = converter;
}

/** Ends the spare process, if there is one. */
export function endSpareConverter(): void {
  spare?.kill();
  spare = null;
}
