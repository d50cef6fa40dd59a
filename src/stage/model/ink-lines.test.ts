import { expect, it } from 'vitest';
import { inkLines } from './ink-lines';

it('draws every line with both of its ends, its element and the one beside it known at each', () => {
  const lines = {
    vertices: Uint32Array.from([0, 1, 2, 0]),
    elements: Uint32Array.from([4, 70_000]),
    beside: Int32Array.from([-1, 5]),
  };
  const { positions, ends, elements, beside } = inkLines(Uint16Array.from([0, 0, 0, 9, 0, 0, 0, 8, 7]), lines);
  expect([...positions]).toEqual([0, 0, 0, 9, 0, 0, 0, 8, 7, 0, 0, 0]);
  expect([...ends]).toEqual([9, 0, 0, 0, 0, 0, 0, 0, 0, 0, 8, 7]);
  expect([...elements]).toEqual([4, 4, 70_000, 70_000]);
  expect([...beside]).toEqual([-1, -1, 5, 5]);
  expect(positions).toBeInstanceOf(Uint16Array);
});
