import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BuildingModel } from '@/formats/building-model';
import { readModel } from '@/formats/read-model';
import { placeGeometry } from '@/publish/geometry/element-geometry';
import { examine } from '@/publish/examination/examine';
import { architectureIfc } from './architecture';
import { CHANGES_P02, CHANGES_P03 } from './changes';
import { flawGuids, SERVICES_FLAWS } from './flaws';
import { vaultedRoofIfc } from './hall-roof-vaulted';
import { FOLDED_ROOF } from './plan';
import { servicesIfc } from './services';
import { structureIfc } from './structure';

describe('the demo library, read back by the real reader', () => {
  let folder: string;
  const models: Record<string, BuildingModel> = {};
  beforeAll(async () => {
    folder = await mkdtemp(join(tmpdir(), 'library-'));
    for (const [name, text] of Object.entries({
      p01: architectureIfc(1),
      p02: architectureIfc(2),
      p03: architectureIfc(3),
      vaulted: vaultedRoofIfc(),
      structure: structureIfc(),
      services: servicesIfc(),
    })) {
      await writeFile(join(folder, name), text);
      models[name] = await readModel(join(folder, name), `${name}.ifc`);
    }
  });
  afterAll(() => rm(folder, { recursive: true }));

  it('is written the same every time', () => {
    expect(architectureIfc(1)).toBe(architectureIfc(1));
    expect(architectureIfc(1)).not.toContain('undefined');
  });

  it('has over 1 200 elements, each with its own guid, and every shape can be read', () => {
    const elements = ['p01', 'structure', 'services', 'vaulted'].flatMap((name) => models[name]!.elements.guid);
    expect(elements.length).toBeGreaterThan(1200);
    expect(new Set(elements).size).toBe(elements.length);
    for (const model of Object.values(models)) {
      expect(model.warnings).toEqual([]);
      expect(new Set(model.placements.map((placement) => placement.element)).size).toBe(model.productsWithShape);
    }
  });

  it('stands where the plan says: 48 by 36 metres, 7.6 high to the upper roof', () => {
    const { elementBoxes } = placeGeometry(models.p01!);
    const row = models.p01!.elements.name.indexOf('Outer wall, south');
    const box = [...elementBoxes.slice(row * 6, row * 6 + 6)].map((value) => Math.round(value * 1000) + 0);
    expect(box).toEqual([0, 0, 0, 48000, 300, 3800]);
  });

  it('carries storeys, rooms, systems, materials, facts and the place on earth', () => {
    const { elements, storeys, properties, georeference } = models.p01!;
    expect(storeys.map((storey) => [storey.name, storey.elevation])).toEqual([
      ['Ground floor', 0],
      ['First floor', 3.8],
      ['Roof', 7.6],
    ]);
    const counter = elements.name.indexOf('Café counter');
    expect([
      elements.room[counter],
      elements.storey[counter],
      elements.material[counter],
      elements.category[counter],
    ]).toEqual(['0.01 Café', 0, 'Wool felt', 'Furniture']);
    const door = elements.name.indexOf('Door 1 010 × 2 135');
    expect(elements.name[elements.parent[door]!]).toBe('Inner wall');
    expect(properties[door]!.Pset_DoorCommon).toMatchObject({ Reference: 'T-10', HandicapAccessible: true });
    expect(properties[elements.name.indexOf('Chair')]!.Identity!.Type).toBe('Chair');
    expect(georeference).toMatchObject({ crs: 'EPSG:25833', eastings: 402180 });
    expect(georeference!.latitude).toBeCloseTo(51 + 33 / 60 + 20 / 3600, 9);
    expect(new Set(models.services!.elements.system)).toEqual(
      new Set(['Supply air', 'Heating supply', 'Heating return', 'Cold water', 'Lighting', '']),
    );
  });

  it.each([
    // Doors in a wall are rated like the wall, and a tree's trunk goes with its crown.
    ['p01', 'p02', CHANGES_P02, ['Door 1 010 × 2 135', 'Tree trunk']],
    ['p02', 'p03', CHANGES_P03, []],
  ])('differs between %s and %s exactly by the known changes', (before, after, changes, along) => {
    const described = [before, after].map((name) => describeAll(models[name]!));
    const guids = new Set(described.flatMap((one) => [...one.keys()]));
    const different = [...guids].filter((guid) => described[0]!.get(guid) !== described[1]!.get(guid));
    const named = new Set(changes.map((change) => change.guid));
    const nameOf = (guid: string) =>
      [before, after]
        .map((name) => models[name]!.elements.name[models[name]!.elements.guid.indexOf(guid)])
        .find(Boolean);
    expect(
      different
        .filter((guid) => !named.has(guid))
        .map(nameOf)
        .sort(),
    ).toEqual(along);
    expect([...named].filter((guid) => !different.includes(guid))).toEqual([]);
  });

  it('has the flaws in the services model that it is known to have, and no others', async () => {
    const { findings } = await examine(models.services!, placeGeometry(models.services!));
    const known = Object.keys(SERVICES_FLAWS).map((kind) => [kind, flawGuids(kind as keyof typeof SERVICES_FLAWS)]);
    expect(
      findings.filter(({ kind }) => kind in SERVICES_FLAWS).map(({ kind, elements }) => [kind, [...elements].sort()]),
    ).toEqual(known.map(([kind, guids]) => [kind, [...guids!].sort()]));
  });

  it('can do without the folded roof: all of it is one system, above which the vault stands', () => {
    const roof = (name: string) => {
      const { elements } = models[name]!;
      return elements.system.filter((system) => system === FOLDED_ROOF).length;
    };
    // Ten slopes and ten gables; six frames of ten rafters and five ties.
    expect([roof('p03'), roof('structure')]).toEqual([20, 90]);
    const { extent } = placeGeometry(models.vaulted!);
    expect(extent[3] - extent[0]).toBeCloseTo(18 + 2 * 0.8, 3);
    expect(models.vaulted!.elements.guid).toHaveLength(1 + 14 + 84 + 24);
  });
});

/** Every element's box, to a tenth of a millimetre, and its facts. */
function describeAll(model: BuildingModel): Map<string, string> {
  const { elementBoxes } = placeGeometry(model);
  return new Map(
    model.elements.guid.map((guid, row) => [
      guid,
      JSON.stringify([
        [...elementBoxes.slice(row * 6, row * 6 + 6)].map((value) => Math.round(value * 1e4)),
        model.properties[row],
      ]),
    ]),
  );
}
