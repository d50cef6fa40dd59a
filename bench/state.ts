import { join } from 'node:path';
import { AS_IN_FILE } from '@/core/placement/placement';
import { publishModel } from '@/publish/publish-model';
import { launchChromium, serveStage } from '../tests/support/stage-server';
import { withInputs } from './inputs';
import type { StateFigures } from './state-page';
import { round, summarise, tell } from './measure';

const ROUNDS = 40;

/** Script that hiding or fading nearly all elements takes, beside one object an element of which each is switched. */
await withInputs('state', async (forEachInput, runs, scratch) => {
  const { origin, close } = await serveStage(join(import.meta.dirname, 'state-page.ts'), scratch);
  const browser = await launchChromium();
  try {
    await forEachInput(async ({ path, name }) => {
      const { report } = await publishModel(path, { fileName: name, outFolder: join(scratch, name) });
      const source = {
        modelId: '00000000-0000-7000-8000-000000000000',
        revisionId: 'r',
        code: 'P01',
        name,
        discipline: '',
        baseUrl: `/${name}/`,
        offset: report.offset,
        extent: report.extent!,
        placement: AS_IN_FILE,
        newerCode: null,
      };
      const all: StateFigures[] = [];
      for (let run = 0; run < runs; run++) {
        const page = await browser.newPage({ viewport: { width: 320, height: 200 } });
        page.setDefaultTimeout(600_000);
        page.on('pageerror', (error) => process.stderr.write(`${error.message}\n`));
        await page.goto(origin);
        await page.addScriptTag({ url: '/page.js', type: 'module' });
        await page.waitForFunction(() => 'changeState' in window);
        all.push(await page.evaluate(([s, n]) => window.changeState(s, n), [source, ROUNDS] as const));
        await page.close();
      }
      const middle = (of: 'hide' | 'fade' | 'reference') => {
        const { median, least, most } = summarise(all.flatMap((figures) => figures[of]));
        return { median: round(median, 2), least: round(least, 2), most: round(most, 2) };
      };
      tell('state', name, {
        elements: all[0]!.elements,
        hideMilliseconds: middle('hide'),
        fadeMilliseconds: middle('fade'),
        referenceMilliseconds: middle('reference'),
        ruleBytes: all[0]!.ruleBytes,
        runs: runs * ROUNDS,
      });
    });
  } finally {
    await browser.close();
    close();
  }
});
