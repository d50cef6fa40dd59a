import { execFile } from 'node:child_process';
import { rm, stat, writeFile } from 'node:fs/promises';
import { basename, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { build } from 'esbuild';
import { bundleConverter } from '@/cli/build';
import { practiceIfc } from '@/demo/practice';
import { convert } from '@/publish/conversion/convert';
import { endSpareConverter } from '@/publish/conversion/spare-converter';
import { PRACTICE_ROUNDS } from '@/publish/conversion/warm-converter';
import { withInputs } from './inputs';
import { round, seconds, summarise, tell } from './measure';

const run = promisify(execFile);
const BARE = fileURLToPath(new URL('./bare-read.ts', import.meta.url));
const LIMITS = { minutes: 60, memoryMb: 16_384 };

// Both as plain JavaScript: ours as an installation runs it, the reference in the form that Node loads soonest.
const folder = join(process.cwd(), '.yurta', 'bench-converter');
await bundleConverter(process.cwd(), folder);
process.env.YURTA_CONVERTER = join(folder, 'convert-process.mjs');
const bareRead = join(folder, 'bare-read.cjs');
await build({ entryPoints: [BARE], outfile: bareRead, bundle: true, packages: 'external', platform: 'node' });

/**
 * Wall time from a file to its published revision, beside the reader library's own: as a worker does it, which has made a
 * process ready with a sample, and by a process that is started for it.
 */
await withInputs('publish', async (forEachInput, runs, scratch) => {
  const sample = join(scratch, 'sample.ifc');
  await writeFile(sample, practiceIfc());
  await forEachInput(async ({ path, name }) => {
    const ours: number[] = [];
    const ready: number[] = [];
    const bare: number[] = [];
    const out = join(scratch, 'out');
    let phases: Record<string, number> = {};
    for (let i = 0; i < runs; i++) {
      const publish = async (from = path) => {
        await rm(out, { recursive: true, force: true });
        return convert({ path: from, fileName: basename(from), outFolder: out, limits: LIMITS });
      };
      endSpareConverter();
      ours.push(await seconds(publish));
      endSpareConverter();
      for (let round = 0; round < PRACTICE_ROUNDS; round++) await publish(sample);
      ready.push(await seconds(async () => (phases = (await publish()).time)));
      if (/\.ifc$/i.test(name))
        bare.push(await seconds(() => run(process.execPath, [bareRead, path], { maxBuffer: 1e8 })));
    }
    const published = summarise(ours);
    const byWorker = summarise(ready);
    const reference = bare.length > 0 ? summarise(bare) : null;
    tell('publish', name, {
      megabytes: round((await stat(path)).size / 1e6, 1),
      newProcessSeconds: published,
      workerSeconds: byWorker,
      bareReadSeconds: reference,
      newProcessRatio: reference && round(published.median / reference.median, 2),
      workerRatio: reference && round(byWorker.median / reference.median, 2),
      phases,
    });
  });
});
