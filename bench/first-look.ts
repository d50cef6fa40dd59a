import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { publishModel } from '@/publish/publish-model';
import { withInputs } from './inputs';
import { round, tell } from './measure';

/** Bytes as sent until the whole is on the screen, beside those of full detail. */
await withInputs('first-look', async (forEachInput, _runs, scratch) => {
  await forEachInput(async ({ path, name }) => {
    const out = join(scratch, 'out');
    await rm(out, { recursive: true, force: true });
    const { report } = await publishModel(path, { fileName: name, outFolder: out });
    const { firstLook } = report.forecast!;
    const whole = report.weight.tilesBrotli + report.weight.pictures;
    tell('first-look', name, {
      bytes: firstLook,
      reference: whole,
      ratio: round(firstLook / whole),
      levels: report.counts.levels,
    });
  });
});
