import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Vec3 } from '@/core/math/mat4';
import { architectureIfc } from '@/demo/library/architecture';
import { STOREY_HEIGHT } from '@/demo/library/plan';
import { openStagePage, publishFor } from '../../../tests/support/published-source';
import { launchChromium, serveStage, type StageServer } from '../../../tests/support/stage-server';
import '../../../tests/support/stage-page-types';

/** Walks through the demo's library, held against where its architect put floors, walls, doors and stairs. */

let folder: string;
let server: StageServer;
let browser: Browser;
let page: Page;

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yurta-walking-'));
  const path = join(folder, 'architecture.ifc');
  await writeFile(path, architectureIfc(3));
  const { source } = await publishFor(folder, path, 'architecture');
  server = await serveStage(join(import.meta.dirname, '../../../tests/support/stage-page.ts'), folder);
  browser = await launchChromium();
  page = await openStagePage(browser, server.origin, { width: 320, height: 240 }, 'openStage');
  await page.evaluate((one) => window.openStage([one]), source);
});
afterAll(async () => {
  await browser.close();
  await server.close();
  await rm(folder, { recursive: true, force: true });
});

/** Stands at a place, looks towards a bearing in degrees from east, and walks so many seconds. Where the eyes are then. */
function walked(place: Vec3, bearing: number, seconds: number): Promise<Vec3 | null> {
  return page.evaluate(
    async ([place, bearing, seconds]) => {
      const { walking, rig } = window.stage;
      const pose = await walking.poseAt(place, (bearing * Math.PI) / 180);
      if (!pose) return null;
      rig.jumpTo(pose);
      walking.stand(pose);
      let now = 1000;
      walking.step(now);
      walking.wish('test', { ahead: 1, aside: 0, turn: 0, up: 0 });
      for (let left = seconds; left > 0; left -= 1 / 30) {
        walking.step((now += 1000 / 30));
        await Promise.resolve();
      }
      walking.wish('test', null);
      for (let i = 0; i < 30; i++) walking.step((now += 1000 / 30));
      return rig.pose.position;
    },
    [place, bearing, seconds] as const,
  );
}

describe('in the library', () => {
  it('one stands in the foyer at eye level and walks about on its floor', async () => {
    const [x, y, z] = (await walked([14, 3, 0], 0, 2))!;
    expect(x).toBeCloseTo(14 + 2.8, 0);
    expect(y).toBeCloseTo(3, 2);
    expect(z).toBeCloseTo(1.6, 2);
  });

  it('the facade stops one, and a step at a slant slides along it', async () => {
    const [, y] = (await walked([14.6, 3, 0], -90, 5))!;
    expect(y).toBeGreaterThan(0.2);
    expect(y).toBeLessThan(0.8);
  });

  it('the stair leads to the gallery, and down again', async () => {
    const up = (await walked([17.5, 7.3, 0], 0, 9))!;
    expect(up[2]).toBeCloseTo(STOREY_HEIGHT + 1.6, 1);
    const down = (await walked([26.5, 7.3, STOREY_HEIGHT], 180, 9))!;
    expect(down[2]).toBeCloseTo(1.6, 1);
  });

  it('nobody stands in a wall or where there is no floor', async () => {
    expect(await walked([14, 3, 40], 0, 1)).toBeNull();
    const beside = (await walked([0.15, 5, 0], 0, 0))!;
    expect(Math.abs(beside[0] - 0.15)).toBeGreaterThan(0.2);
  });

  it('all doors let one through', async () => {
    const doors = await page.evaluate(() => {
      const [model] = window.stage.loadedModels;
      const { index } = model!;
      return index.guid.flatMap((_, row) => {
        const category = index.category.values[index.category.codes[row]!];
        return category === 'Door' ? [{ name: index.name[row]!, box: model!.elementBox(row) }] : [];
      });
    });
    expect(doors.length).toBeGreaterThan(8);
    const stuck: string[] = [];
    for (const { name, box } of doors) {
      const [x0, y0, z0, x1, y1] = box;
      const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2];
      const isAlongX = x1 - x0 > y1 - y0;
      const start: Vec3 = isAlongX ? [cx, y0 - 0.7, z0] : [x0 - 0.7, cy, z0];
      const end = await walked(start, isAlongX ? 90 : 0, 1.6);
      if (!end || (isAlongX ? end[1] < y1 : end[0] < x1)) stuck.push(`${name} ${JSON.stringify({ start, end })}`);
    }
    expect(stuck).toEqual([]);
  });
});
