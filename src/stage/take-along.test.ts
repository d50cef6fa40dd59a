import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { NodeIO } from '@gltf-transform/core';
import type { Browser, Page } from '@playwright/test';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { withoutElements, ALL_ELEMENTS } from '@/core/elements/element-set';
import { IfcBuilder } from '@/demo/ifc/ifc-builder';
import { palette } from '@/demo/library/palette';
import { readModel } from '@/formats/read-model';
import { openStagePage, publishFor } from '../../tests/support/published-source';
import { launchChromium, serveStage, type StageServer } from '../../tests/support/stage-server';
import '../../tests/support/stage-page-types';

/** What shows, taken along from a page with a real model in it. */

let folder: string;
let server: StageServer;
let browser: Browser;
let page: Page;

function twoWallsIfc(): string {
  const ifc = new IfcBuilder({ model: 'two', projectName: 'Two', author: 'Test', organisation: 'Yurta', time: '2026-01-01T00:00:00' }); // prettier-ignore
  const paint = palette(ifc);
  const storey = ifc.storey('s', 'Ground floor', 0);
  for (const [key, y] of [['front', 0], ['back', 5]] as const)
    ifc.product('IFCWALL', key, { name: `Wall, ${key}`, at: [0, y, 0], bodies: [ifc.box(paint.plaster, [0, 0, 0], [4, 0.3, 3])], in: storey }); // prettier-ignore
  return ifc.finish('two.ifc');
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yurta-take-along-'));
  const path = join(folder, 'two.ifc');
  await writeFile(path, twoWallsIfc());
  const { source } = await publishFor(folder, path, 'two');
  server = await serveStage(join(import.meta.dirname, '../../tests/support/stage-page.ts'), folder);
  browser = await launchChromium();
  page = await openStagePage(browser, server.origin, { width: 200, height: 150 }, 'openStage');
  await page.evaluate((one) => window.openStage([{ ...one, placement: { turn: 0, offset: [100, 0, 0] } }]), source);
});
afterAll(async () => {
  await browser.close();
  server.close();
  await rm(folder, { recursive: true, force: true });
});

/** @param hidden an element's name to hide first */
async function taken(format: 'glb' | 'ifc', hidden: string): Promise<Buffer> {
  const guid = await page.evaluate((name) => {
    const { index } = window.stage.loadedModels[0]!;
    return index.guid[index.name.indexOf(name)]!;
  }, hidden);
  const shown = withoutElements(ALL_ELEMENTS, [[{ is: 'element', guids: [guid] }]]);
  const bytes = await page.evaluate(
    async ([format, shown]) => {
      window.stage.show({ visibility: { shown, hiddenModels: [] } });
      const about = {
        name: 'Two',
        author: 'Ines',
        time: '2026-11-29T10:00:00Z',
        storeys: [{ name: 'Ground floor', elevation: 0 }],
      };
      return Array.from(await window.stage.takeAlong(format, about));
    },
    [format, shown] as const,
  );
  return Buffer.from(bytes);
}

it('as GLB it is what shows, named, where it stands in the project', async () => {
  const document = await new NodeIO().readBinary(await taken('glb', 'Wall, back'));
  const [root] = document.getRoot().listScenes()[0]!.listChildren();
  expect(root!.listChildren().map((node) => [node.getName(), node.getExtras().storey])).toEqual([['Wall, front', 'Ground floor']]); // prettier-ignore
  const [wall] = root!.listChildren();
  const positions = wall!.getMesh()!.listPrimitives()[0]!.getAttribute('POSITION')!.getArray()!;
  const xs = Array.from<number>(positions).filter((_, i) => i % 3 === 0);
  expect([Math.min(...xs), Math.max(...xs)].map((x) => Math.round(x * 100) / 100)).toEqual([100, 104]);
});

it('as IFC other programs read it', async () => {
  const path = join(folder, 'taken.ifc');
  await writeFile(path, await taken('ifc', 'Wall, front'));
  const model = await readModel(path, 'taken.ifc');
  expect(model.warnings).toEqual([]);
  const row = model.elements.name.indexOf('Wall, back');
  expect([model.elements.category[row], model.storeys[model.elements.storey[row]!]?.name]).toEqual([
    'Wall',
    'Ground floor',
  ]);
  expect(model.elements.name).not.toContain('Wall, front');
});
