import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Vec3 } from '@/core/math/mat4';
import { IfcBuilder } from '@/demo/ifc/ifc-builder';
import { palette } from '@/demo/library/palette';
import { readModel } from '@/formats/read-model';
import { distance } from './distance';
import { listen } from './test-console';

/** Corner and size, metres: two blocks apart along x, y and z; one that overlaps the first. */
const BLOCKS: Record<string, [Vec3, Vec3]> = {
  first: [[4000, 3000, 0], [1, 1, 1]], // prettier-ignore
  second: [[4003, 3004, 7], [1, 1, 1]], // prettier-ignore
  overlapping: [[4000.5, 3000.5, 0.5], [1, 1, 1]], // prettier-ignore
};

let folder: string;
let file: string;
let guids: Record<string, string>;
const heard = listen();
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'yurta-distance-'));
  file = join(folder, 'blocks.ifc');
  const ifc = new IfcBuilder({ model: 'blocks', projectName: 'Blocks', author: 'Test', organisation: 'Yurta', time: '2026-01-01T00:00:00' }); // prettier-ignore
  const paint = palette(ifc);
  const storey = ifc.storey('s', 'Ground floor', 0);
  for (const [name, [at, size]] of Object.entries(BLOCKS))
    ifc.product('IFCBUILDINGELEMENTPROXY', name, { name, at, bodies: [ifc.box(paint.concrete, [0, 0, 0], size)], in: storey }); // prettier-ignore
  await writeFile(file, ifc.finish('blocks.ifc'));
  const { elements } = await readModel(file, 'blocks.ifc');
  guids = Object.fromEntries(elements.name.map((name, row) => [name, elements.guid[row]!]));
});
afterAll(() => rm(folder, { recursive: true }));

describe('yurta distance', () => {
  it('prints the distance, its points and its components', async () => {
    expect(await distance([file], { from: guids.first!, to: guids.second!, json: true })).toBe(0);
    const found = JSON.parse(heard.printed[0]!) as { distance: number; a: Vec3; b: Vec3; components: Vec3 };
    // From corner to corner: 2, 3 and 6 metres, which is 7.
    expect(found.distance).toBeCloseTo(7, 5);
    const near = (point: Vec3, expected: Vec3) => point.forEach((one, axis) => expect(one).toBeCloseTo(expected[axis]!, 5)); // prettier-ignore
    near(found.a, [4001, 3001, 1]);
    near(found.b, [4003, 3004, 7]);
    near(found.components, [2, 3, 6]);
  });

  it('is nothing where elements overlap', async () => {
    expect(await distance([file], { from: guids.first!, to: guids.overlapping!, json: true })).toBe(0);
    expect((JSON.parse(heard.printed[0]!) as { distance: number }).distance).toBeCloseTo(0, 6);
  });

  it('says in one line which element or file there is not', async () => {
    expect(await distance([file], { from: guids.first!, to: 'nobody' })).toBe(2);
    expect(await distance([join(folder, 'nothing.ifc')], { from: 'a', to: 'b' })).toBe(2);
    expect(heard.complaints).toEqual([expect.stringContaining('“nobody”'), expect.stringContaining('does not exist')]);
  });
});
