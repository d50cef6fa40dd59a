import { describe, expect, it } from 'vitest';
import type { Geometry } from '@/formats/building-model';
import { placeGeometry } from './element-geometry';
import { shellOf } from '../examination/shells';
import { FacetsAhead, mergeFacets } from './merge-facets';
import { field, meshModel, moved } from '../test-model';

/** A surface drawn on an n by n raster a side: x, y, z of every raster point, by side and two numbers 0..1. */
function raster(sides: ((u: number, v: number) => number[])[], n: number) {
  const positions: number[] = [];
  const indices: number[] = [];
  for (const side of sides) {
    const first = positions.length / 3;
    for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(...side(i / n, j / n));
    const mesh = field(n, 1);
    for (const index of mesh.indices) indices.push(first + index);
  }
  return { positions, indices };
}

/** The faces of a box of 3 x 2 x 1 metres, seen from outside. */
const BOX = [
  (u: number, v: number) => [3 * v, 2 * u, 0],
  (u: number, v: number) => [3 * u, 2 * v, 1],
  (u: number, v: number) => [3 * u, 0, v],
  (u: number, v: number) => [3 * v, 2, u],
  (u: number, v: number) => [0, 2 * v, u],
  (u: number, v: number) => [3, 2 * u, v],
];

async function merge({ positions, indices }: { positions: number[]; indices: number[] }, turn = 0) {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  const turned = positions.map((_, i) => {
    const [x, y, z] = positions.slice(i - (i % 3), i - (i % 3) + 3) as [number, number, number];
    return [c * x - s * z, y, s * x + c * z][i % 3]!;
  });
  const model = meshModel(turned, indices, [moved(0, 0, 0), moved(9, 0, 0)]);
  const result = await mergeFacets(model);
  return { ...result, triangles: result.model.geometries[0]!.indices.length / 3, given: model };
}

describe('merging facets', () => {
  it('leaves of a box on a raster the box, with its volume and closed, in any direction', async () => {
    for (const turn of [0, 0.4]) {
      const { model, triangles, saved } = await merge(raster(BOX, 8), turn);
      // Of 768; the simplifier may leave a corner or two on an edge.
      expect(triangles).toBeLessThanOrEqual(20);
      expect(saved, 'both placements count').toBe(2 * (6 * 8 * 8 * 2 - triangles));
      const shell = shellOf(placeGeometry(model).pieces[0]!);
      expect(shell.closed).toBe(true);
      expect(shell.volume).toBeCloseTo(6, 5);
    }
  });

  it('leaves of an open sheet its outline, and its area', async () => {
    const { model, triangles } = await merge(field(10, 0.5));
    expect(triangles).toBeLessThan(8);
    const { box } = placeGeometry(model).pieces[0]!;
    expect([...box]).toEqual([0, 0, 0, 5, 5, 0]);
  });

  it('takes nothing from what is curved, nor from a sheet that bends by half a millimetre', async () => {
    const wave = (depth: number) => raster([(u, v) => [10 * u, 10 * v, depth * Math.sin(6 * u) * Math.cos(5 * v)]], 20);
    for (const depth of [1, 0.0005]) {
      const { model, given } = await merge(wave(depth));
      expect(model.geometries[0]).toBe(given.geometries[0]);
    }
  });

  it('keeps the bend of a folded sheet where it is', async () => {
    const fold = raster([(u, v) => [4 * u, 4 * v, Math.abs(4 * u - 2)]], 8);
    const { model, triangles } = await merge(fold);
    expect(triangles).toBeLessThanOrEqual(8);
    const { positions } = model.geometries[0]!;
    const low = [...positions.keys()].filter((i) => i % 3 === 2 && Math.abs(positions[i]!) < 1e-6);
    expect(
      low.map((i) => positions[i - 2]),
      'along the bend',
    ).toEqual(low.map(() => 2));
    expect(low.length).toBeGreaterThanOrEqual(2);
  });

  it('makes one of vertices in one place, and leaves every triangle where it was', async () => {
    const { positions, indices } = raster(BOX, 1);
    const soup = {
      positions: indices.flatMap((i) => positions.slice(i * 3, i * 3 + 3)),
      indices: indices.map((_, i) => i),
    };
    const { model, given, saved } = await merge(soup);
    const corners = ({ positions: p, indices: at }: Geometry) => [...at].map((i) => [...p.subarray(i * 3, i * 3 + 3)]);
    expect(model.geometries[0]!.positions).toHaveLength(8 * 3);
    expect(corners(model.geometries[0]!)).toEqual(corners(given.geometries[0]!));
    expect(saved).toBe(0);
  });

  it('leaves alone what has colours, normals or pictures at its corners', async () => {
    const { positions, indices } = raster(BOX, 8);
    for (const own of ['colors', 'normals', 'uvs'] as const) {
      const model = meshModel(positions, indices, [moved(0, 0, 0)]);
      const geometry = model.geometries[0]! as unknown as Record<string, unknown>;
      geometry[own] = own === 'colors' ? new Uint8Array(positions.length) : new Float32Array(positions.length);
      expect((await mergeFacets(model)).model.geometries[0]).toBe(geometry as unknown as Geometry);
    }
  });

  it('comes to the same where some of the shapes were there before the others', async () => {
    const { positions, indices } = raster(BOX, 8);
    const [early, late] = [0, 1].map(() => meshModel(positions, indices, [moved(0, 0, 0)]));
    const ahead = new FacetsAhead();
    const [shape] = early!.geometries as [Geometry];
    await ahead.merge([{ ...shape }, shape]);
    const merged = await mergeFacets(early!);
    expect(merged.saved).toBeGreaterThan(700);
    expect(merged.model.geometries).toEqual((await mergeFacets(late!)).model.geometries);
    expect((await mergeFacets(early!)).model.geometries[0], 'done once').toBe(merged.model.geometries[0]);
  });
});
