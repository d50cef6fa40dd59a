import { join } from 'node:path';
import { openStagePage, publishFor } from '../tests/support/published-source';
import { launchChromium, serveStage } from '../tests/support/stage-server';
import { withInputs } from './inputs';
import { round, summarise, tell } from './measure';
import type { PickFigures } from './pick-page';

const VIEW = { width: 640, height: 400 };
const ACROSS = 24;
const DOWN = 15;

/** How long it takes to say what is meant by pointing at a place: corner, edge, axis, face. */
await withInputs('pick', async (forEachInput, runs, scratch) => {
  const { origin, close } = await serveStage(join(import.meta.dirname, 'pick-page.ts'), scratch);
  const browser = await launchChromium();
  try {
    await forEachInput(async ({ path, name }) => {
      const { source, report } = await publishFor(scratch, path, name);
      const places = Array.from({ length: ACROSS * DOWN }, (_, i): [number, number] => [
        ((i % ACROSS) + 0.5) / ACROSS,
        (Math.floor(i / ACROSS) + 0.5) / DOWN,
      ]);
      const all: PickFigures[] = [];
      for (let i = 0; i < runs; i++) {
        const page = await openStagePage(browser, origin, VIEW, 'pickStage');
        all.push(await page.evaluate(([s, p]) => window.pickStage(s, p), [source, places] as const));
        await page.close();
      }
      const middleOf = (figure: 'snap' | 'raycast') => {
        const { median, least, most, runs: count } = summarise(all.flatMap((one) => one[figure]));
        return { median: round(median, 2), least: round(least, 2), most: round(most, 2), count };
      };
      tell('pick', name, {
        elements: report.counts.elements,
        triangles: report.counts.triangles,
        met: all[0]!.met,
        snapMilliseconds: middleOf('snap'),
        referenceRaycastMilliseconds: middleOf('raycast'),
      });
    });
  } finally {
    await browser.close();
    close();
  }
});
