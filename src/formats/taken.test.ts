import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { validateBytes } from 'gltf-validator';
import { NodeIO } from '@gltf-transform/core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { readModel } from './read-model';
import { box } from '@/core/section/test-solids';
import type { Taken } from '@/core/take/taken';
import { writeGlb } from '@/core/take/write-glb';
import { writeIfc } from '@/core/take/write-ifc';

const wallGuid = '2O2Fr$t4X7Zf8NOew3FLOH';
const solid = (min: [number, number, number], max: [number, number, number]) => {
  const { positions, indices } = box(min, max);
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) };
};
const taken: Taken = {
  name: 'Town library, “O’Hara”',
  time: '2026-11-29T10:00:00.000Z',
  author: 'Ines',
  storeys: [{ name: 'First floor', elevation: 3.8 }],
  georeference: { crs: 'EPSG:25833', eastings: 402_180, northings: 5_712_440, orthogonalHeight: 87.5, mapTurn: 0.1 },
  elements: [
    { guid: wallGuid, name: 'Wall, südlich', category: 'Wall', storey: 'First floor', surfaces: [{ colour: [200, 100, 50, 255], ...solid([10, 20, 3.8], [14, 20.3, 6.8]) }] }, // prettier-ignore
    { guid: 'pane-1', name: 'Pane', category: 'Window', storey: '', surfaces: [{ colour: [120, 160, 180, 90], ...solid([1, 0, 1], [2, 0.02, 2]) }, { colour: [90, 60, 30, 255], ...solid([0, 0, 1], [1, 0.1, 2]) }] }, // prettier-ignore
    { guid: 'pane-1', name: 'Pane again', category: 'Robot', storey: '', surfaces: [{ colour: [1, 2, 3, 255], ...solid([5, 5, 5], [6, 6, 6]) }] }, // prettier-ignore
  ],
};

let folder: string;
beforeAll(async () => (folder = await mkdtemp(join(tmpdir(), 'yurta-take-'))));
afterAll(() => rm(folder, { recursive: true, force: true }));

describe('what is taken along', () => {
  it('as IFC is read back with the same elements, places, colours and georeference', async () => {
    const path = join(folder, 'taken.ifc');
    await writeFile(path, writeIfc(taken));
    const model = await readModel(path, 'taken.ifc');
    expect(model.warnings).toEqual([]);
    const { elements } = model;
    const rows = ['Wall, südlich', 'Pane', 'Pane again'].map((name) => elements.name.indexOf(name));
    expect(rows.map((row) => elements.category[row])).toEqual(['Wall', 'Window', 'Building element proxy']);
    expect(elements.guid[rows[0]!]).toBe(wallGuid);
    expect(new Set(elements.guid).size).toBe(elements.guid.length);
    expect(model.storeys).toMatchObject([{ name: 'First floor', elevation: 3.8 }]);
    expect(elements.storey[rows[0]!]).toBe(0);
    expect(model.georeference).toMatchObject({ crs: 'EPSG:25833', eastings: 402_180, northings: 5_712_440 });
    expect(model.georeference!.mapTurn).toBeCloseTo(0.1, 5);
    // The wall's corners are where they were.
    const placement = model.placements.find(({ element }) => element === rows[0])!;
    const { positions } = model.geometries[placement.geometry]!;
    const reach = [0, 1, 2].map((axis) => {
      const values = Array.from(positions).filter((_, i) => i % 3 === axis);
      return [Math.min(...values) + placement.matrix[12 + axis]!, Math.max(...values) + placement.matrix[12 + axis]!];
    });
    expect(reach.flat().map((value) => Math.round(value * 1e4) / 1e4)).toEqual([10, 14, 20, 20.3, 3.8, 6.8]);
    const [red, green, blue] = model.materials[placement.material]!.color.map((part) => Math.round(part * 255));
    expect([red, green, blue]).toEqual([200, 100, 50]);
  });

  it('as GLB passes the validator and keeps names, guids and places, however far from zero', async () => {
    const far = structuredClone(taken);
    for (const { surfaces } of far.elements)
      for (const { positions } of surfaces) for (let i = 0; i < positions.length; i += 3) positions[i]! += 402_180;
    for (const [one, shift] of [
      [taken, 0],
      [far, 402_180],
    ] as const) {
      const glb = await writeGlb(one);
      const report = await validateBytes(glb);
      expect(report.issues.messages).toEqual([]);
      const document = await new NodeIO().readBinary(glb);
      const [scene] = document.getRoot().listScenes();
      const [root] = scene!.listChildren();
      const wall = root!.listChildren().find((node) => node.getExtras().guid === wallGuid)!;
      expect([wall.getName(), wall.getExtras().storey]).toEqual(['Wall, südlich', 'First floor']);
      const world = wall.getWorldMatrix();
      const [primitive] = wall.getMesh()!.listPrimitives();
      const [x, y, z] = primitive!.getAttribute('POSITION')!.getElement(0, [0, 0, 0]) as [number, number, number];
      // glTF has Y up: what was north is -Z.
      const at = [0, 1, 2].map(
        (axis) => world[axis]! * x + world[4 + axis]! * y + world[8 + axis]! * z + world[12 + axis]!,
      );
      const first = taken.elements[0]!.surfaces[0]!.positions;
      [first[0]! + shift, first[2]!, -first[1]!].forEach((value, axis) => expect(at[axis]).toBeCloseTo(value, 3));
    }
  });
});
