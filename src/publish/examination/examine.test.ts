import { describe, expect, it } from 'vitest';
import { multiply } from '@/core/math/mat4';
import type { BuildingModel } from '@/formats/building-model';
import { placeGeometry } from '../geometry/element-geometry';
import { field, meshModel, moved, SQUARE } from '../test-model';
import { examine } from './examine';
import { mend } from './mend';
import { shellOf } from './shells';

/** A cube of one metre whose faces look outwards. */
const CUBE = {
  positions: [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1, (i >> 1) & 1, (i >> 2) & 1]),
  indices: [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ].flatMap(([a, b, c, d]) => [a!, b!, c!, a!, c!, d!]),
};
const cubes = (at: number[][]) =>
  meshModel(
    CUBE.positions,
    CUBE.indices,
    at.map(([x, y, z]) => moved(x!, y!, z!)),
  );
/** Boxes at x, y, z with their three sizes; the first in one colour, all others in another. */
function laid(boxes: number[][]): BuildingModel {
  const model = meshModel(
    CUBE.positions,
    CUBE.indices,
    boxes.map(([x, y, z, a, b, c]) => [a!, 0, 0, 0, 0, b!, 0, 0, 0, 0, c!, 0, x!, y!, z!, 1]),
  );
  model.elements.material = boxes.map(() => 'Oak');
  model.materials.push({ name: '', color: [0.2, 0.6, 0.3, 1] });
  model.placements.forEach((placement, i) => (placement.material = Math.min(i, 1)));
  return model;
}
const row = (n: number) => Array.from({ length: n }, (_, i) => [i * 2, 0, 0]);

async function kinds(model: BuildingModel): Promise<Record<string, string[]>> {
  const { findings } = await examine(model, placeGeometry(model));
  return Object.fromEntries(findings.map((finding) => [finding.kind, finding.elements]));
}

/** A model in which nothing is to be found. */
function tidy(at: number[][]): BuildingModel {
  const model = cubes(at);
  model.elements.material = at.map(() => 'Oak');
  return model;
}

describe('an examination', () => {
  it('has nothing to say about a tidy model', async () => {
    expect(await kinds(tidy(row(8)))).toEqual({});
  });

  it('finds what lies far from the rest, and says how far', async () => {
    const model = tidy([...row(30), [4000, 0, 0]]);
    const { findings } = await examine(model, placeGeometry(model));
    expect(findings).toMatchObject([{ kind: 'far-away', count: 1, elements: ['guid-30'] }]);
    expect(findings[0]!.detail).toContain('4 km');
    // A long building is not a stray of itself, nor is its gate house.
    expect(await kinds(tidy([...row(150), [300, 90, 0]]))).toEqual({});
  });

  it('finds a stray among a handful as well', async () => {
    expect(await kinds(tidy([...row(6), [5000, 0, 0]]))).toEqual({ 'far-away': ['guid-6'] });
  });

  it('finds what stands twice in the same place, and keeps the first', async () => {
    expect(await kinds(tidy([...row(4), [2, 0, 0], [2, 0, 0]]))).toEqual({ duplicate: ['guid-4', 'guid-5'] });
    const different = tidy([...row(4), [2, 0, 0]]);
    different.elements.category[4] = 'Furniture';
    expect(await kinds(different)).toEqual({});
  });

  it('finds solids whose faces look inwards, and surfaces with holes, but not sheets', async () => {
    const model = tidy(row(3));
    model.geometries.push(
      { positions: Float32Array.from(CUBE.positions), indices: Uint32Array.from(CUBE.indices).reverse() },
      { positions: Float32Array.from(CUBE.positions), indices: Uint32Array.from(CUBE.indices.slice(6)) },
      { positions: Float32Array.from(SQUARE.positions), indices: Uint32Array.from(SQUARE.indices) },
    );
    [1, 2, 3].forEach((geometry, i) => (model.placements[i]!.geometry = geometry));
    expect(await kinds(model)).toEqual({ 'inside-out': ['guid-0'], 'open-shell': ['guid-1'] });
  });

  it('tells volumes exactly, far from zero as well', async () => {
    const model = tidy([[500, 800, 3]]);
    const [piece] = placeGeometry(model).pieces;
    expect(shellOf(piece!)).toMatchObject({ closed: true });
    expect(shellOf(piece!).volume).toBeCloseTo(1, 9);
  });

  it('finds what is finer than its size can show', async () => {
    const fine = field(45, 0.002); // 4 050 triangles on nine centimetres
    const coarse = field(45, 1); // the same on 45 metres
    for (const [mesh, expected] of [
      [fine, { 'too-fine': ['guid-0'] }],
      [coarse, {}],
    ] as const) {
      const model = meshModel(mesh.positions, mesh.indices, [moved(0, 0, 0)]);
      model.elements.material = ['Steel'];
      expect(await kinds(model)).toEqual(expected);
    }
  });

  it('finds faces that lie in those of another colour, and which of the two lies on the other', async () => {
    // A carpet of four square metres let into a floor: both have their upper face at 1 m.
    const model = laid([
      [0, 0, 0, 10, 10, 1],
      [3, 3, 0.9, 2, 2, 0.1],
    ]);
    const { findings, covered } = await examine(model, placeGeometry(model));
    expect(findings).toMatchObject([{ kind: 'coincident', elements: ['guid-1'] }]);
    expect(findings[0]!.detail).toContain('4.0 m²');
    expect(covered.get(1)).toEqual([{ normal: [0, 0, 1], distance: 1, depth: 1 }]);
  });

  it('leaves alone what touches from outside, what looks alike, and what barely touches', async () => {
    const onTop = laid([
      [0, 0, 0, 10, 10, 1],
      [3, 3, 1, 2, 2, 0.1],
    ]);
    const alike = laid([
      [0, 0, 0, 10, 10, 1],
      [3, 3, 0.9, 2, 2, 0.1],
    ]);
    alike.materials[1]!.color = [...alike.materials[0]!.color];
    const beside = laid([
      [0, 0, 0, 10, 10, 1],
      [9.999, 3, 0.9, 2, 2, 0.1],
    ]);
    const twoMillimetres = laid([
      [0, 0, 0, 10, 10, 1],
      [3, 3, 0.902, 2, 2, 0.1],
    ]);
    // Two boxes under a floor look down in one plane, but a third stands against them.
    const hidden = laid([
      [0, 0, 0, 10, 10, 1],
      [3, 3, 0, 2, 2, 0.5],
      [1, 1, -1, 8, 8, 1],
    ]);
    for (const model of [onTop, alike, beside, twoMillimetres, hidden]) expect(await kinds(model)).toEqual({});
  });

  it('finds them in any plane, far from zero, and whichever way rounding went', async () => {
    for (const shift of [0.0004, 0.0008, 0.0012, 0.0016]) {
      const model = laid([
        [0, 0, 0, 10, 10, 1],
        [3, 3, 0.9, 2, 2, 0.1],
      ]);
      const [c, s] = [Math.cos(0.7), Math.sin(0.7)];
      const tilt = Float64Array.of(c, 0, s, 0, 0, 1, 0, 0, -s, 0, c, 0, 812, 340, shift, 1);
      model.placements.forEach((placement, i) => {
        placement.matrix = multiply(tilt, placement.matrix);
        if (i === 1) placement.matrix[14]! += 2e-4;
      });
      expect(await kinds(model), `${shift}`).toEqual({ coincident: ['guid-1'] });
    }
  });

  it('finds all of a floor with thousands of tiles, and of inlays across their edges', async () => {
    const at = Array.from({ length: 80 * 80 }, (_, i) => [i % 80, Math.floor(i / 80)] as const);
    const model = laid([
      [0, 0, 0, 81, 81, 1],
      ...at.map(([x, y]) => [x + 0.1, y + 0.1, 0.9, 0.8, 0.8, 0.1]),
      ...at.map(([x, y]) => [x + 0.8, y + 0.4, 0.95, 0.2, 0.2, 0.05]),
    ]);
    model.materials.push({ name: '', color: [0.7, 0.1, 0.1, 1] });
    model.placements.forEach((placement, i) => (placement.material = i === 0 ? 0 : i <= 6400 ? 1 : 2));
    const { findings, covered } = await examine(model, placeGeometry(model));
    expect(findings).toMatchObject([{ kind: 'coincident', count: 12_800 }]);
    // Tiles of 0.64 m² in the floor; inlays of 0.04 m² in the floor, and half of each in a tile.
    expect(findings[0]!.detail).toContain(`${6400 * 0.64 + 6400 * 0.04 + 6400 * 0.02} m²`);
    expect(covered.get(1)).toMatchObject([{ normal: [0, 0, 1], depth: 1 }]);
    expect(covered.get(12_800)).toMatchObject([{ normal: [0, 0, 1], depth: 2 }]);
  });

  it('finds what lacks an identity of its own, a storey, a name, a material', async () => {
    const model = tidy(row(4));
    model.storeys = [{ guid: 's', name: 'Ground', elevation: 0 }];
    model.elements.storey = [0, -1, 0, 0];
    model.elements.guid[3] = 'guid-0';
    model.elements.name[2] = 'Wall';
    model.elements.material[2] = '';
    model.materials.push({ name: '', color: [1, 1, 1, 1] });
    model.placements[2]!.material = 1;
    expect(await kinds(model)).toEqual({
      'repeated-guid': ['guid-0'],
      'no-storey': ['guid-1'],
      'no-name': ['guid-2'],
      'no-material': ['guid-2'],
    });
  });
});

describe('what is wholly clear', () => {
  const model = tidy(row(4));
  model.materials.push({ name: 'Clear', color: [0.2, 0.4, 0.6, 0] }, { name: 'Glass', color: [1, 1, 1, 0.2] });
  [0, 1, 2, 1].forEach((material, i) => (model.placements[i]!.material = material));

  it('is told of, and glass is not', async () => {
    expect(await kinds(model)).toMatchObject({ unseen: ['guid-1', 'guid-3'] });
  });

  it('is shown solid in its own colour if that is agreed to', async () => {
    const geometry = placeGeometry(model);
    const result = await mend(model, geometry, await examine(model, geometry), ['unseen']);
    expect(result.mended).toEqual([{ kind: 'unseen', count: 2 }]);
    const colours = result.geometry.pieces.map(({ material }) => result.model.materials[material]!.color);
    expect(colours).toEqual([model.materials[0]!.color, [0.2, 0.4, 0.6, 1], [1, 1, 1, 0.2], [0.2, 0.4, 0.6, 1]]);
    expect(model.materials).toHaveLength(3);
  });

  it('may be so by the paint of its vertices', async () => {
    const painted = tidy(row(2));
    const { positions, indices } = painted.geometries[0]!;
    const paint = (alpha: number) =>
      Uint8Array.from({ length: (positions.length / 3) * 4 }, (_, i) => (i % 4 === 3 ? alpha : 90));
    painted.geometries = [
      { positions, indices, colors: paint(0) },
      { positions, indices, colors: paint(255) },
    ];
    painted.placements[1]!.geometry = 1;
    expect(await kinds(painted)).toMatchObject({ unseen: ['guid-0'] });
    const geometry = placeGeometry(painted);
    const { pieces } = (await mend(painted, geometry, await examine(painted, geometry), ['unseen'])).geometry;
    expect([...pieces[0]!.colors!.slice(0, 4)]).toEqual([90, 90, 90, 255]);
  });
});

describe('mending', () => {
  it('leaves out what was agreed to, and moves the whole back to its middle', async () => {
    const model = tidy([...row(30), [9000, 0, 0], [0, 0, 0]]);
    const geometry = placeGeometry(model);
    expect(geometry.offset[0]).toBeGreaterThan(2000);
    const result = await mend(model, geometry, await examine(model, geometry), ['far-away', 'duplicate', 'no-name']);
    expect(result.mended).toEqual([
      { kind: 'far-away', count: 1 },
      { kind: 'duplicate', count: 1 },
    ]);
    expect(result.model.elements.guid.length).toBe(30);
    expect(result.geometry.offset).toEqual([0, 0, 0]);
    expect(model.elements.guid.length).toBe(32);
  });

  it('turns faces that look inwards, and only those', async () => {
    const model = tidy(row(3));
    model.geometries.push({
      positions: Float32Array.from(CUBE.positions),
      indices: Uint32Array.from(CUBE.indices).reverse(),
    });
    model.placements[1]!.geometry = 1;
    const geometry = placeGeometry(model);
    const result = await mend(model, geometry, await examine(model, geometry), ['inside-out']);
    expect(result.geometry.pieces.map((piece) => Math.round(shellOf(piece).volume))).toEqual([1, 1, 1]);
    expect((await examine(result.model, result.geometry)).findings).toEqual([]);
    // What was not agreed to stays as it is.
    expect((await mend(model, geometry, await examine(model, geometry), [])).geometry).toBe(geometry);
  });

  it('lifts a face out of another by millimetres, over all that lie there, and keeps the rest closed', async () => {
    // Floor, carpet and a mat upon one another, all with their upper face at 1 m.
    const model = laid([
      [0, 0, 0, 10, 10, 1],
      [2, 2, 0.9, 4, 4, 0.1],
      [3, 3, 0.95, 1, 1, 0.05],
    ]);
    model.materials.push({ name: '', color: [0, 0, 1, 1] });
    model.placements[2]!.material = 2;
    const geometry = placeGeometry(model);
    const examination = await examine(model, geometry);
    expect(examination.findings).toMatchObject([{ elements: ['guid-1', 'guid-2'], lifts: [1, 2] }]);
    const result = await mend(model, geometry, examination, ['coincident']);
    expect(result.mended).toEqual([{ kind: 'coincident', count: 2 }]);
    const tops = result.geometry.pieces.map(({ box }) => box[5]);
    expect(tops[0]).toBe(1);
    expect(tops[1]).toBeCloseTo(1.004, 9);
    expect(tops[2]).toBeCloseTo(1.008, 9);
    expect(result.geometry.pieces.every((piece) => shellOf(piece).closed)).toBe(true);
    expect(result.geometry.elementBoxes[17]).toBeCloseTo(1.008, 9);
    expect((await examine(result.model, result.geometry)).findings).toEqual([]);
    expect(geometry.pieces[1]!.box[5], 'what was given stays').toBe(1);
  });

  it('does both at once', async () => {
    const model = tidy([...row(30), [9000, 0, 0]]);
    model.geometries.push({
      positions: Float32Array.from(CUBE.positions),
      indices: Uint32Array.from(CUBE.indices).reverse(),
    });
    model.placements[3]!.geometry = 1;
    const geometry = placeGeometry(model);
    const result = await mend(model, geometry, await examine(model, geometry), ['far-away', 'inside-out']);
    expect(result.geometry.pieces.length).toBe(30);
    expect(result.geometry.pieces.every((piece) => shellOf(piece).volume > 0.99)).toBe(true);
  });
});
