import { join } from 'node:path';
import { boxCentre, boxSize } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { openStagePage, publishFor } from '../tests/support/published-source';
import { launchChromium, serveStage } from '../tests/support/stage-server';
import type { CutFigures } from './cut-page';
import { withInputs } from './inputs';
import { round, summarise, tell } from './measure';

const VIEW = { width: 640, height: 400 };
/** Where planes lie, as shares of the extent along each axis. */
const SHARES = [0.3, 0.45, 0.6];

/** Exact sections by a plane, how long they block the page, and frames while a plane is dragged. */
await withInputs('cut', async (forEachInput, runs, scratch) => {
  const { origin, close } = await serveStage(join(import.meta.dirname, 'cut-page.ts'), scratch);
  const browser = await launchChromium();
  try {
    await forEachInput(async ({ path, name }) => {
      const { source, report } = await publishFor(scratch, path, name);
      const [middle, size] = [boxCentre(source.extent), boxSize(source.extent)];
      const planes = [0, 1, 2].flatMap((axis) =>
        SHARES.map((share) => ({
          at: middle.map((value, k) => (k === axis ? value + (share - 0.5) * size[k]! : value)) as Vec3,
          normal: [0, 1, 2].map((k) => Number(k === axis)) as Vec3,
        })),
      );
      const all: CutFigures[] = [];
      for (let i = 0; i < runs; i++) {
        const page = await openStagePage(browser, origin, VIEW, 'cutStage');
        all.push(await page.evaluate(([s, p]) => window.cutStage(s, p), [source, planes] as const));
        await page.close();
      }
      const middleOf = (figure: keyof CutFigures) => {
        const { median, least, most, runs: count } = summarise(all.flatMap((one) => one[figure]));
        return { median: round(median, 1), least: round(least, 1), most: round(most, 1), count };
      };
      tell('cut', name, {
        elements: report.counts.elements,
        triangles: report.counts.triangles,
        sectionMilliseconds: middleOf('section'),
        referenceEveryTriangleMilliseconds: middleOf('everyTriangle'),
        longestBlockedMilliseconds: middleOf('blocked'),
        draggedFrameMilliseconds: middleOf('dragged'),
        uncutFrameMilliseconds: middleOf('uncut'),
      });
    });
  } finally {
    await browser.close();
    close();
  }
});
