import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { architectureIfc } from '@/demo/library/architecture';
import { ModelFileError } from '@/formats/model-file-error';
import { blockIfc } from './block';
import { tell } from './measure';

export interface Input {
  path: string;
  name: string;
}

/** Measures with one file after the other. */
export type ForEachInput = (measure: (input: Input) => Promise<void>) => Promise<void>;

/**
 * What the command line asks for: files, or the usual ones, and how often. Removes what it made afterwards. A file that
 * cannot be read is told of with the reason, the others are measured, and the exit code is 2.
 */
export async function withInputs(
  bench: string,
  work: (forEachInput: ForEachInput, runs: number, scratch: string) => Promise<void>,
): Promise<void> {
  const { values, positionals } = parseArgs({ allowPositionals: true, options: { runs: { type: 'string' } } });
  const runs = Number(values.runs ?? 3);
  if (!Number.isInteger(runs) || runs < 1) throw new Error('--runs takes a whole number from 1.');
  const missing = positionals.find((path) => !existsSync(path));
  if (missing !== undefined) throw new Error(`“${missing}” does not exist.`);
  const scratch = await mkdtemp(join(tmpdir(), 'yurta-bench-'));
  try {
    const given = positionals.map((path) => ({ path: resolve(path), name: basename(path) }));
    const inputs = given.length > 0 ? given : await usual(scratch);
    const forEachInput: ForEachInput = async (measure) => {
      for (const input of inputs)
        try {
          await measure(input);
        } catch (error) {
          if (!(error instanceof ModelFileError)) throw error;
          tell(bench, input.name, { refused: error.message });
          process.exitCode = 2;
        }
    };
    await work(forEachInput, runs, scratch);
  } finally {
    await rm(scratch, { recursive: true, force: true });
  }
}

async function usual(scratch: string): Promise<Input[]> {
  await mkdir(join(scratch, 'inputs'));
  const inputs: Input[] = [];
  for (const [name, text] of [
    ['library-architecture.ifc', architectureIfc(3)],
    ['block-20000.ifc', blockIfc(20_000)],
  ] as const) {
    const path = join(scratch, 'inputs', name);
    await writeFile(path, text);
    inputs.push({ path, name });
  }
  return inputs;
}
