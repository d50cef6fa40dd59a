import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, join, resolve } from 'node:path';
import { parseArgs } from 'node:util';
import { architectureIfc } from '@/demo/library/architecture';
import { blockIfc } from './block';

export interface Input {
  path: string;
  name: string;
}

/** What the command line asks for: files, or the usual ones, and how often. Removes what it made afterwards. */
export async function withInputs(
  work: (inputs: Input[], runs: number, scratch: string) => Promise<void>,
): Promise<void> {
  const { values, positionals } = parseArgs({ allowPositionals: true, options: { runs: { type: 'string' } } });
  const runs = Number(values.runs ?? 3);
  if (!Number.isInteger(runs) || runs < 1) throw new Error('--runs takes a whole number from 1.');
  const missing = positionals.find((path) => !existsSync(path));
  if (missing !== undefined) throw new Error(`“${missing}” does not exist.`);
  const scratch = await mkdtemp(join(tmpdir(), 'yurta-bench-'));
  try {
    const given = positionals.map((path) => ({ path: resolve(path), name: basename(path) }));
    await work(given.length > 0 ? given : await usual(scratch), runs, scratch);
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
