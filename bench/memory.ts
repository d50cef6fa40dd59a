import { execFile } from 'node:child_process';
import { rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { ModelFileError } from '@/formats/model-file-error';
import { COLLECTING, THRIFTY } from '@/publish/conversion/converter-process';
import { withInputs } from './inputs';
import { round, summarise, tell } from './measure';

const run = promisify(execFile);
const ALONE = fileURLToPath(new URL('./publish-alone.ts', import.meta.url));

/** The most memory that publishing a file holds at any moment, beside the file's own size. */
await withInputs('memory', async (forEachInput, runs, scratch) => {
  await forEachInput(async ({ path, name }) => {
    const peaks: number[] = [];
    const { size } = await stat(path);
    for (let i = 0; i < runs; i++) {
      const out = join(scratch, 'out');
      await rm(out, { recursive: true, force: true });
      const { stdout } = await run(process.execPath, [...COLLECTING, '--import', 'tsx', ALONE, path, name, out], {
        env: { ...process.env, ...THRIFTY },
      });
      const told = JSON.parse(stdout) as { peak: number } | Pick<ModelFileError, 'problem' | 'message'>;
      if ('problem' in told) throw new ModelFileError(told.problem, told.message);
      peaks.push(told.peak / 1024);
    }
    const megabytes = size / 1e6;
    const peak = summarise(peaks);
    tell('memory', name, { megabytes: round(megabytes, 1), peakMb: peak, ratio: round(peak.median / megabytes, 1) });
  });
});
