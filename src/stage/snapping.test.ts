import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from '@playwright/test';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { NO_CUTS, planeAt } from '@/core/cut/cuts';
import type { Vec3 } from '@/core/math/mat4';
import { cross, distance, subtract, unit } from '@/core/math/vec3';
import { IfcBuilder } from '@/demo/ifc/ifc-builder';
import { palette } from '@/demo/library/palette';
import { servicesIfc } from '@/demo/library/services';
import { SLAB, STOREY_HEIGHT } from '@/demo/library/plan';
import { openStagePage, publishFor } from '../../tests/support/published-source';
import { launchChromium, serveStage, type StageServer } from '../../tests/support/stage-server';
import '../../tests/support/stage-page-types';

/** What is snapped to, held against where the demo's services engineer put things. */

let folder: string;
let server: StageServer;
let browser: Browser;
let page: Page;

/** A plate of many triangles, 10 by 10 m, whose upper half lies a metre higher: steps are edges, all else is flat. */
const FIELD = 90;
function plateIfc(): string {
  const ifc = new IfcBuilder({ model: 'plate', projectName: 'Plate', author: 'Test', organisation: 'Yurta', time: '2026-01-01T00:00:00' }); // prettier-ignore
  const paint = palette(ifc);
  const points: Vec3[] = [];
  // Rough enough that publishing keeps every triangle.
  for (let y = 0; y <= FIELD; y++)
    for (let x = 0; x <= FIELD; x++)
      points.push([
        (10 * x) / FIELD,
        (10 * y) / FIELD,
        (y > FIELD / 2 ? 1 : 0) + 0.02 * (((x * x * 7 + x * y * 3 + y * 5) % 13) / 13),
      ]);
  const at = (x: number, y: number) => y * (FIELD + 1) + x;
  const triangles: [number, number, number][] = [];
  for (let y = 0; y < FIELD; y++)
    for (let x = 0; x < FIELD; x++)
      triangles.push([at(x, y), at(x + 1, y), at(x + 1, y + 1)], [at(x, y), at(x + 1, y + 1), at(x, y + 1)]);
  const storey = ifc.storey('s', 'Ground floor', 0);
  ifc.product('IFCBUILDINGELEMENTPROXY', 'plate', { name: 'Plate', at: [0, 0, 0], bodies: [ifc.mesh(paint.concrete, points, triangles)], in: storey }); // prettier-ignore
  return ifc.finish('plate.ifc');
}

beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yurta-snapping-'));
  const path = join(folder, 'services.ifc');
  await writeFile(path, servicesIfc());
  const { source } = await publishFor(folder, path, 'services');
  server = await serveStage(join(import.meta.dirname, '../../tests/support/stage-page.ts'), folder);
  browser = await launchChromium();
  page = await openStagePage(browser, server.origin, { width: 320, height: 240 }, 'openStage');
  await page.evaluate((one) => window.openStage([one]), source);
  await page.evaluate(async () => {
    const [model] = window.stage.loadedModels;
    await model!.finest.load(
      () => true,
      () => 0,
    );
  });
});
afterAll(async () => {
  await browser?.close();
  server?.close();
  await rm(folder, { recursive: true, force: true });
});

/** The axes of the demo's pipe runs: two storeys of three systems, each up, along the west and along the south. */
const RUNS: [Vec3, Vec3][] = [0, 1].flatMap((level) =>
  [0, 0.2, 0.4].flatMap((shift): [Vec3, Vec3][] => {
    const z = level * STOREY_HEIGHT;
    const height = z + STOREY_HEIGHT - SLAB - 0.75;
    const [x, y] = [2.4 + shift, 8.4 + shift];
    return [
      [[x, 33, level === 0 ? 0.9 : z], [x, 33, height]], // prettier-ignore
      [[x, 33, height], [x, y, height]], // prettier-ignore
      [[x, y, height], [44, y, height]], // prettier-ignore
    ];
  }),
);

function offLine(point: Vec3, [a, b]: [Vec3, Vec3]): number {
  return Math.hypot(...cross(subtract(point, a), unit(subtract(b, a))));
}

describe('snapping to the demo', () => {
  it('knows the axes of its pipes within a millimetre', async () => {
    const lines = await page.evaluate(() => {
      const [model] = window.stage.loadedModels;
      return model!.index.name.flatMap((name, row) =>
        name.startsWith('Pipe DN') ? [window.stage['snapping'].featuresOf(model!.refOf(row)).centreLines] : [],
      );
    });
    expect(lines.length).toBeGreaterThan(100);
    for (const [line] of lines as [Vec3, Vec3][][]) {
      const [a, b] = line!;
      expect(Math.min(...RUNS.map((run) => Math.max(offLine(a, run), offLine(b, run))))).toBeLessThan(0.001);
    }
  });

  it('knows the circles of the tanks and the corners of the heat pump within a millimetre', async () => {
    const found = await page.evaluate(() => {
      const [model] = window.stage.loadedModels;
      const of = (name: string) => window.stage['snapping'].featuresOf(model!.refOf(model!.index.name.indexOf(name)));
      return { tank: of('Buffer tank 500 l'), pump: of('Heat pump') };
    });
    for (const at of [
      [4.4, 34.4, 0.1],
      [4.4, 34.4, 1.9],
    ] as Vec3[])
      // prettier-ignore
      expect(Math.min(...found.tank.circles.map(({ centre }) => distance(centre, at)))).toBeLessThan(0.001);
    for (const { radius } of found.tank.circles) expect(Math.abs(radius - 0.45)).toBeLessThan(0.001);
    for (const x of [0.8, 1.7])
      for (const y of [33.5, 34.4])
        for (const z of [0.1, 1.8])
          expect(Math.min(...found.pump.corners.map((corner) => distance(corner, [x, y, z])))).toBeLessThan(0.001);
  });

  it('looks at an element of many triangles only around the place, and finds its corner all the same', async () => {
    const path = join(folder, 'plate.ifc');
    await writeFile(path, plateIfc());
    const { source, report } = await publishFor(folder, path, 'plate');
    expect(report.counts.triangles).toBeGreaterThan(10_000);
    const other = await openStagePage(browser, server.origin, { width: 320, height: 240 }, 'openStage');
    await other.evaluate((one) => window.openStage([one]), source);
    const found = await other.evaluate(async () => {
      const { stage } = window;
      stage.rig.jumpTo({ position: [-2, -2, 4], target: [1, 1, 0], fov: 50 });
      await stage.surfaces.load([0, 0, 0], 20);
      const { left, top } = stage.bounds;
      const { x, y } = stage.project([0, 0, 0])!;
      const place = stage.placeAt(x + left + 2, y + top - 2, new Set(['corner', 'face'] as const), 6, null);
      return { kind: place?.kind, point: place?.point };
    });
    expect(found.kind).toBe('corner');
    expect(distance(found.point!, [0, 0, 0])).toBeLessThan(0.03);
    await other.close();
  });

  it('takes the cut face of the heat pump for what one points at on its section', async () => {
    const place = await page.evaluate(
      async (cuts) => {
        const { stage } = window;
        stage.show({ cuts });
        for (let i = 0; i < 400 && !stage.sections.isExact; i++) await new Promise((done) => setTimeout(done, 20));
        stage.rig.jumpTo({ position: [0.8, 33.95, 8], target: [1.25, 33.95, 1], fov: 40 });
        await stage.surfaces.load([1.25, 33.95, 1], 3);
        const { x, y } = stage.project([1.25, 33.9, 1])!;
        const { left, top } = stage.bounds;
        const at = stage.placeAt(x + left, y + top, new Set(['corner', 'edge', 'face'] as const), 5, null);
        return at && { kind: at.kind, z: at.point[2], area: at.cut?.().area };
      },
      { ...NO_CUTS, planes: [planeAt('a', [0, 0, 1], [0, 0, 1])] },
    );
    expect(place!.kind).toBe('face');
    expect(place!.z).toBeCloseTo(1, 6);
    // Published vertices are rounded by half a millimetre at most, all around.
    expect(Math.abs(place!.area! - 0.9 * 0.9)).toBeLessThan(4 * 0.9 * 0.0005);
  });
});
