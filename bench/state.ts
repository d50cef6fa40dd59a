import { join } from 'node:path';
import { openStagePage, publishFor } from '../tests/support/published-source';
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
      const { source } = await publishFor(scratch, path, name);
      const all: StateFigures[] = [];
      for (let run = 0; run < runs; run++) {
        const page = await openStagePage(browser, origin, { width: 320, height: 200 }, 'changeState');
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
