import { BoxGeometry, SphereGeometry, type BufferGeometry } from 'three';
import { describe, expect, it } from 'vitest';
import { placeGeometry } from '../geometry/element-geometry';
import { field, meshModel, moved } from '../test-model';
import { boxBody } from './body';
import { simplify } from './simplify';
import type { DetailPart } from './split-pieces';
import { collapseDistance, SurfaceDistance } from './surface-distance';
import { surfaceDistance } from './test-distance';

function part(positions: ArrayLike<number>, indices: ArrayLike<number>, matrix = moved(0, 0, 0)): DetailPart {
  const [piece] = placeGeometry(meshModel(positions, indices, [matrix])).pieces;
  return { ...piece!, source: 0, covers: indices.length / 3, isCut: false, share: null, error: 0 };
}

const shape = (geometry: BufferGeometry, matrix?: number[]) =>
  part(geometry.getAttribute('position').array, geometry.index!.array, matrix);

describe('distance between surfaces', () => {
  it('is the one by construction: between a sphere and a larger one, between a field and a moved one', () => {
    const inner = shape(new SphereGeometry(1, 96, 64));
    const outer = shape(new SphereGeometry(1.25, 96, 64));
    expect(surfaceDistance(inner, outer)).toBeCloseTo(0.25, 2);
    const { positions, indices } = field(4, 1);
    expect(surfaceDistance(part(positions, indices), part(positions, indices, moved(0, 0, 0.3)))).toBeCloseTo(0.3, 6);
    // A field that lacks a strip: seen from the whole, its far corners are 2 m off.
    const strip = field(4, 1).indices.filter((_, i, all) => i < all.length / 2);
    expect(surfaceDistance(part(positions, strip), part(positions, indices))).toBeGreaterThan(1.4);
  });

  it('that lost corners is the same whether what they have in common is measured or not', () => {
    const { positions, indices } = field(6, 1);
    // The middle of the field stands up; without it, the faces around it are gone or lie flat.
    const raised = Float64Array.from(positions);
    const middle = 3 * 7 + 3;
    raised[middle * 3 + 2] = 0.8;
    const before = Uint32Array.from(indices);
    const after = before.map((vertex) => (vertex === middle ? middle + 1 : vertex));
    const left = after.filter((_, corner) => {
      const face = [...after.subarray(corner - (corner % 3), corner - (corner % 3) + 3)];
      return new Set(face).size === 3;
    });
    const expected = surfaceDistance({ positions: raised, indices: before }, { positions: raised, indices: left });
    expect(expected).toBeGreaterThan(0.4);
    expect(collapseDistance(raised, before, left)).toBeCloseTo(expected, 6);
    expect(collapseDistance(raised, before, before.slice())).toBe(0);
  });

  it('of a point far from zero is as exact as near it', () => {
    const { positions, indices } = field(10, 1);
    const far = new SurfaceDistance(part(positions, indices, moved(1900, 0, 0)));
    expect(far.from(1905.5, 5.5, 0.125)).toBeCloseTo(0.125, 5);
  });
});

describe('simplifying', () => {
  it('takes triangles from a sphere and stays within what is allowed', async () => {
    const sphere = shape(new SphereGeometry(1, 96, 64));
    for (const allowed of [0.005, 0.02, 0.1]) {
      const less = await simplify(sphere, allowed);
      expect(less.indices.length).toBeLessThan(sphere.indices.length / 2);
      expect(less.error).toBeLessThanOrEqual(allowed);
      // Every corner lies on the sphere, and no face cuts deeper into it than that.
      for (let i = 0; i < less.indices.length; i += 3) {
        const centre = [0, 1, 2].map(
          (axis) =>
            [0, 1, 2].reduce((sum, corner) => sum + less.positions[less.indices[i + corner]! * 3 + axis]!, 0) / 3,
        );
        expect(1 - Math.hypot(...centre)).toBeLessThan(allowed + 0.002);
      }
    }
  });

  it('counts what was lost before, and stops where nothing may be lost any more', async () => {
    const sphere = shape(new SphereGeometry(1, 96, 64));
    const once = await simplify(sphere, 0.01);
    const twice = await simplify(once, 0.05);
    expect(twice.error).toBeGreaterThan(once.error);
    expect(twice.error).toBeLessThanOrEqual(0.05);
    expect(await simplify({ ...sphere, error: 0.01 }, 0.01)).toMatchObject({ indices: sphere.indices });
  });

  it('makes a finely divided field two triangles, but keeps every point of its rim where it was cut', async () => {
    const { positions, indices } = field(20, 1);
    const whole = await simplify(part(positions, indices), 0.01);
    expect(whole.indices.length / 3).toBe(2);
    const cut = await simplify({ ...part(positions, indices), isCut: true }, 0.01);
    const rim = new Set<string>();
    for (const vertex of cut.indices) {
      const [x, y] = [cut.positions[vertex * 3]!, cut.positions[vertex * 3 + 1]!].map(Math.round);
      if (x === 0 || x === 20 || y === 0 || y === 20) rim.add(`${x},${y}`);
    }
    expect(rim.size).toBe(80);
    expect(cut.indices.length).toBeLessThan(indices.length / 4);
  });
});

describe('a plain body', () => {
  const turned = [Math.cos(0.5), Math.sin(0.5), 0, 0, -Math.sin(0.5), Math.cos(0.5), 0, 0, 0, 0, 1, 0, 7, 3, 0, 1];

  it('takes the place of what is nearly a box, however it is turned', () => {
    const cupboard = shape(new BoxGeometry(2, 0.6, 1.8, 6, 6, 6), turned);
    const body = boxBody(cupboard, 0.05)!;
    expect(body.indices.length / 3).toBe(12);
    expect(body.error).toBeLessThan(0.002); // a twentieth of a degree over its length;
    expect(surfaceDistance(cupboard, body)).toBeLessThan(0.002);
  });

  it('is refused where it would be off by more than is allowed', () => {
    const ball = shape(new SphereGeometry(0.5, 24, 16));
    expect(boxBody(ball, 0.2)).toBeNull();
    // The corner of a cube around a ball of radius r is (√3 - 1) r from it: 0.366 m.
    expect(boxBody(ball, 0.4)!.error).toBeCloseTo(0.366, 2);
  });
});
