import { join } from 'node:path';
import { openStagePage, publishFor } from '../tests/support/published-source';
import { launchChromium, serveStage } from '../tests/support/stage-server';
import { withInputs } from './inputs';
import { round, summarise, tell } from './measure';
import type { WalkFigures } from './walk-page';

const VIEW = { width: 640, height: 400 };

/** Script that a step of walking takes: floor, walls, sliding, head room. */
await withInputs('walk', async (forEachInput, runs, scratch) => {
  const { origin, close } = await serveStage(join(import.meta.dirname, 'walk-page.ts'), scratch);
  const browser = await launchChromium();
  try {
    await forEachInput(async ({ path, name }) => {
      const { source, report } = await publishFor(scratch, path, name);
      const all: WalkFigures[] = [];
      for (let i = 0; i < runs; i++) {
        const page = await openStagePage(browser, origin, VIEW, 'walkStage');
        all.push(await page.evaluate((one) => window.walkStage(one), source));
        await page.close();
      }
      const middleOf = (figure: 'step' | 'ray') => {
        const sorted = all.flatMap((one) => one[figure]).sort((a, b) => a - b);
        const { median, most, runs: count } = summarise(sorted);
        return {
          median: round(median, 3),
          p95: round(sorted[Math.floor(sorted.length * 0.95)]!, 3),
          most: round(most, 2),
          count,
        };
      };
      tell('walk', name, {
        elements: report.counts.elements,
        triangles: report.counts.triangles,
        metres: round(all[0]!.metres, 1),
        stepMilliseconds: middleOf('step'),
        referenceRaycastMilliseconds: middleOf('ray'),
      });
    });
  } finally {
    await browser.close();
    close();
  }
});
