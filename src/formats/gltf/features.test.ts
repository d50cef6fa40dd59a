import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readModel } from '../read-model';
import { readGltf } from './read-gltf';
import { SCHEMA, trees, type TreeOptions } from './test-trees';

let folder: string;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), 'features-'));
});
afterAll(() => rm(folder, { recursive: true }));

async function read(text: string, name = 'park.gltf') {
  const path = join(folder, name);
  await writeFile(path, text);
  return readModel(path, name);
}

const LIME = {
  Species: 'Lime',
  Height: 12.5,
  age: 80,
  shade: 3,
  felled: false,
  health: 'Ailing',
  crown: '1, -2, 3',
  birds: 'tit, tit',
  years: '1946, 1990',
  owner: 'the town',
};
const ELM = {
  Species: 'Ülme',
  age: 300,
  shade: 1.4,
  felled: true,
  health: 'Sound',
  crown: '4, 5, 6',
  birds: 'owl',
  years: '-5, 1723',
  owner: 'the town',
};

describe('things that a mesh tells apart', () => {
  it('are elements with their facts, and what is none of them stays with the whole', async () => {
    const model = await read(trees());
    expect(model.warnings).toEqual([]);
    expect(model.elements.name).toEqual(['Park', 'Ülme', 'Lime']);
    expect(model.elements.category).toEqual(['Object', 'Tree', 'Tree']);
    expect(model.elements.parent).toEqual([-1, 0, 0]);
    expect(model.properties[1]!.Trees).toEqual({ ...ELM, shade: expect.closeTo(1.4, 6) });
    expect(model.properties[2]!.Trees).toEqual(LIME);
    expect(model.productsWithShape).toBe(3);
    // Y is up in the file; each has the triangle that bears its number.
    const left = model.placements.map(({ element, geometry }) => [
      model.elements.name[element],
      Math.min(...model.geometries[geometry]!.positions.filter((_, i) => i % 3 === 0)),
    ]);
    expect(left).toEqual([
      ['Ülme', 0],
      ['Lime', 2],
      ['Park', 4],
    ]);
  });

  it('are told apart without facts too', async () => {
    const model = await read(trees({ ids: { propertyTable: undefined } }));
    expect(model.elements.name).toEqual(['Park', 'Park 1', 'Park 0']);
    expect(model.properties).toEqual([{}, {}, {}]);
  });

  it('are not, where a picture or nothing tells them apart', async () => {
    const pictured = await read(trees({ ids: { texture: { index: 0 } } }));
    expect(pictured.elements.name).toEqual(['Park']);
    expect(pictured.warnings).toMatchObject([{ reason: expect.stringContaining('told apart by a picture') }]);
    expect((await read(trees({ ids: { attribute: undefined } }))).elements.name).toEqual(['Park']);
    const text = trees().replace(/"featureIds":\[.*?\]/, '"featureIds":[null]');
    const senseless = await read(text);
    expect([senseless.elements.name, senseless.warnings.length]).toEqual([['Park'], 1]);
  });

  it('keep their place where their facts make no sense, which is told', async () => {
    const spoilt: NonNullable<TreeOptions['spoil']>[] = [
      (table) => (table.species!.stringOffsets = 99),
      (table) => (table.species!.stringOffsetType = 'FLOAT32'),
      (table) => delete table.species!.stringOffsets,
      (table) => delete table.birds!.arrayOffsets,
      (table) => (table.birds!.arrayOffsets = table.species!.values),
      (table) => (table.age!.values = table.felled!.values),
      (table) => (table.age!.values = -1),
      (table) => (table.height = 7 as never),
    ];
    for (const spoil of spoilt) {
      const model = await read(trees({ spoil }));
      expect(model.elements.name, spoil.toString()).toEqual(['Park', 'Park 1', 'Park 0']);
      expect(model.warnings).toMatchObject([{ reason: expect.stringContaining('features or their facts') }]);
    }
    for (const schema of [
      {},
      { schema: { classes: [] } },
      { schema: { classes: { tree: { properties: { species: {} } } } } },
    ])
      expect((await read(trees({ schema }))).warnings).toHaveLength(1);
  });

  it('take their schema from a file of its own', async () => {
    await writeFile(join(folder, 'estate.json'), JSON.stringify(SCHEMA));
    const path = join(folder, 'park.gltf');
    await writeFile(path, trees({ schema: { schemaUri: 'estate.json' } }));
    const model = await readGltf({ path, fileName: 'park.gltf', parts: folder }, {});
    expect(model.properties[2]!.Trees).toEqual(LIME);
    await writeFile(join(folder, 'estate.json'), '{"classes":');
    const without = await readGltf({ path, fileName: 'park.gltf', parts: folder }, {});
    expect(without.elements.name).toEqual(['Park', 'Park 1', 'Park 0']);
    expect(without.warnings[0]!.reason).toContain('no whole JSON');
  });
});
