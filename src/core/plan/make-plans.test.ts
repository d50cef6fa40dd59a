import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/mat4';
import { box } from '../section/test-solids';
import { makePlans, type PlanElement } from './make-plans';

function element(category: string, min: Vec3, max: Vec3, whole = ''): PlanElement {
  return { category, whole, low: min[2], high: max[2], meshes: [box(min, max)] };
}

/** Two storeys of 10 by 8 m with a wall to the south, a table, and a stair of four steps between them. */
const HOUSE = [
  element('Slab', [0, 0, -0.3], [10, 8, 0]),
  element('Wall', [0, 0, 0], [10, 0.3, 3]),
  element('Furniture', [4, 4, 0], [6, 5, 0.74]),
  element('Railing', [1, 6, 0], [3, 6.05, 1.3]),
  element('Pipe segment', [8, 4, 0], [8.1, 4.1, 3]),
  ...[0, 1, 2, 3].map((i) => element('Member', [2 + i, 7, i * 0.7], [3 + i, 8, i * 0.7 + 0.05], 'Stair')),
  element('Slab', [0, 0, 2.9], [10, 5, 3.2]),
  element('Wall', [0, 0, 3.2], [0.3, 5, 6]),
];

/** Corners of path data, in centimetres. */
function corners(data: string): [number, number][][] {
  return data
    .split('z')
    .filter(Boolean)
    .map((part) => {
      const numbers = (part.match(/-?\d+/g) ?? []).map(Number);
      let [x, y] = [0, 0];
      return Array.from({ length: numbers.length / 2 }, (_, i): [number, number] => {
        x += numbers[2 * i]!;
        y += numbers[2 * i + 1]!;
        return [x, y];
      });
    });
}
const sorted = (data: string) => corners(data).map((loop) => loop.map(String).sort());

describe('plans', () => {
  it('show of each named storey what one stands on, what stops one, and what else is cut', async () => {
    const { corner, storeys } = await makePlans(HOUSE, [
      { name: 'Upper', elevation: 3.2 },
      { name: 'Ground', elevation: 0 },
    ]);
    expect(corner).toEqual([0, 0]);
    expect(storeys.map(({ name, floor }) => [name, floor])).toEqual([['Ground', 0], ['Upper', 3.2]]); // prettier-ignore
    const [ground, upper] = storeys;
    expect(sorted(ground!.walls)).toEqual([['0,0', '0,30', '1000,0', '1000,30']]);
    expect(sorted(ground!.light)).toEqual([['100,600', '100,605', '300,600', '300,605']]);
    expect(sorted(ground!.ground)).toEqual([['0,0', '0,800', '1000,0', '1000,800']]);
    expect(sorted(ground!.steps).flat()).toEqual(expect.arrayContaining(['200,700', '600,800']));
    expect(sorted(upper!.walls)).toEqual([['0,0', '0,500', '30,0', '30,500']]);
    expect(sorted(upper!.ground)).toEqual([['0,0', '0,500', '1000,0', '1000,500']]);
  });

  it('find the storeys of a model that names none', async () => {
    const { storeys } = await makePlans(HOUSE, []);
    expect(storeys.map(({ floor }) => floor)).toEqual([expect.closeTo(0, 1), expect.closeTo(3.2, 1)]);
    expect(storeys.every(({ name, walls }) => name === '' && walls !== '')).toBe(true);
  });

  it('are empty of nothing', async () => {
    expect(await makePlans([], [])).toEqual({ corner: [0, 0], storeys: [] });
    expect((await makePlans([element('Pipe segment', [0, 0, 0], [1, 1, 3])], [])).storeys).toEqual([]);
  });
});
