import { writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Box3 } from '@/core/math/box3';
import { boxCentre, boxDiagonal } from '@/core/math/box3';
import type { CameraPose } from '@/core/view/camera';
import { readModel } from '@/formats/read-model';
import { placeGeometry } from '@/publish/geometry/element-geometry';
import type { DrawFigures, PlainElement } from './draw-page';
import { openStagePage, publishFor } from '../tests/support/published-source';
import { launchChromium, serveStage } from '../tests/support/stage-server';
import { withInputs } from './inputs';
import { round, summarise, tell } from './measure';

const VIEW = { width: 640, height: 400 };
/** Frames of one way around the whole. */
const FRAMES = 24;

/** Draw calls and main-thread milliseconds a frame with the whole in view, beside one mesh an element. */
await withInputs('draw', async (forEachInput, runs, scratch) => {
  const { origin, close } = await serveStage(join(import.meta.dirname, 'draw-page.ts'), scratch);
  const browser = await launchChromium();
  try {
    await forEachInput(async ({ path, name }) => {
      const { source, report } = await publishFor(scratch, path, name);
      await writeFile(join(scratch, `${name}.json`), JSON.stringify(await plainElements(path, name)));
      const poses = around(source.extent);
      const ours: DrawFigures[] = [];
      const plain: DrawFigures[] = [];
      for (let i = 0; i < runs; i++) {
        const page = await openStagePage(browser, origin, VIEW, 'drawStage');
        ours.push(await page.evaluate(([s, p]) => window.drawStage(s, p), [source, poses] as const));
        plain.push(await page.evaluate(([a, p]) => window.drawPlain(a, p), [`/${name}.json`, poses] as const));
        await page.close();
      }
      tell('draw', name, {
        elements: report.counts.elements,
        triangles: report.counts.triangles,
        drawCalls: Math.max(...ours.map(({ drawCalls }) => drawCalls)),
        scriptMilliseconds: middle(ours),
        referenceDrawCalls: Math.max(...plain.map(({ drawCalls }) => drawCalls)),
        referenceScriptMilliseconds: middle(plain),
      });
    });
  } finally {
    await browser.close();
    close();
  }
});

function middle(figures: DrawFigures[]) {
  const { median, least, most, runs } = summarise(figures.flatMap(({ script }) => script));
  return { median: round(median, 2), least: round(least, 2), most: round(most, 2), frames: runs };
}

/** A way around a box from which all of it is seen. */
function around(extent: Box3): CameraPose[] {
  const centre = boxCentre(extent);
  const away = boxDiagonal(extent);
  return Array.from({ length: FRAMES }, (_, i) => {
    const angle = (2 * Math.PI * i) / FRAMES;
    return {
      position: [centre[0] + away * Math.cos(angle), centre[1] + away * Math.sin(angle), centre[2] + away * 0.5],
      target: centre,
      fov: 50,
    };
  });
}

/** The triangles of every element, as a viewer without ambition would hold them. */
async function plainElements(path: string, name: string): Promise<PlainElement[]> {
  const model = await readModel(path, name);
  const elements = new Map<number, PlainElement>();
  for (const { element, material, positions, indices } of placeGeometry(model).pieces) {
    const [r, g, b] = model.materials[material]!.color;
    const one = elements.get(element) ?? { positions: [], color: [r, g, b] };
    for (const index of indices)
      for (let axis = 0; axis < 3; axis++) one.positions.push(round(positions[index * 3 + axis]!));
    elements.set(element, one);
  }
  return [...elements.values()];
}
