import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { BuildingModel } from '@/formats/building-model';
import { readModel } from '@/formats/read-model';
import { placeGeometry } from '@/publish/element-geometry';
import { architectureIfc } from './architecture';
import { CHANGES_P02 } from './changes';
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
    const elements = ['p01', 'structure', 'services'].flatMap((name) => models[name]!.elements.guid);
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
      new Set(['Supply air', 'Heating supply', 'Heating return', 'Cold water', 'Lighting']),
    );
  });

  it('differs between P01 and P02 exactly by the known changes', () => {
    const describeAll = (model: BuildingModel) => {
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
    };
    const before = describeAll(models.p01!);
    const after = describeAll(models.p02!);
    const different = [...new Set([...before.keys(), ...after.keys()])].filter(
      (guid) => before.get(guid) !== after.get(guid),
    );
    const named = new Set(CHANGES_P02.map((change) => change.guid));
    const byName = (guid: string) =>
      models.p01!.elements.name[models.p01!.elements.guid.indexOf(guid)] ??
      models.p02!.elements.name[models.p02!.elements.guid.indexOf(guid)];
    // Doors in a wall are rated like the wall, and a tree's trunk goes with its crown.
    expect(
      different
        .filter((guid) => !named.has(guid))
        .map(byName)
        .sort(),
    ).toEqual(['Door 1 010 × 2 135', 'Tree trunk']);
    expect([...named].filter((guid) => !different.includes(guid))).toEqual([]);
  });
});
