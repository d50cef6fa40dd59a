import { cpus, totalmem } from 'node:os';

/** The middle of several runs, and how far they lie apart. */
export interface Measured {
  median: number;
  least: number;
  most: number;
  runs: number;
}

export function summarise(values: number[]): Measured {
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  const median = sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
  return { median, least: sorted[0]!, most: sorted.at(-1)!, runs: sorted.length };
}

export const MACHINE = {
  processor: cpus()[0]?.model.trim() ?? 'unknown',
  cores: cpus().length,
  memoryGb: Math.round(totalmem() / 1024 ** 3),
  node: process.version,
};

/** Prints one result as a line of JSON. */
export function tell(bench: string, file: string, result: object): void {
  process.stdout.write(`${JSON.stringify({ bench, file, ...result, machine: MACHINE })}\n`);
}

export async function seconds(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await work();
  return (performance.now() - start) / 1000;
}

export function round(value: number, digits = 3): number {
  return Math.round(value * 10 ** digits) / 10 ** digits;
}
