import { expect, it } from 'vitest';
import { cornersAround } from './corners-around';

it('lists the corners at every point, none at one that no triangle uses', () => {
  // Two triangles over the edge 1-3; point 2 is alone.
  const { start, around } = cornersAround(Uint32Array.of(0, 1, 3, 3, 1, 4), 6);
  const at = (point: number) => [...around.subarray(start[point], start[point + 1])];
  expect([0, 1, 2, 3, 4, 5].map(at)).toEqual([[0], [1, 4], [], [2, 3], [5], []]);
});
