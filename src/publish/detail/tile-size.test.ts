import { expect, it } from 'vitest';
import type { Box3 } from '@/core/math/box3';
import { tileSize } from './tile-size';

const cubes = (side: number, count: number): Box3[] =>
  Array.from({ length: count }, (_, i) => [i * 50, 0, 0, i * 50 + side, side, side]);

it('keeps a millimetre for buildings and what stands in them, whatever lies around', () => {
  expect(tileSize(cubes(3, 200))).toBe(127);
  expect(tileSize([...cubes(3, 200), ...cubes(2000, 20)])).toBe(127);
  expect(tileSize([])).toBe(127);
});

it('grows with what is shown, and never costs a thing a ten-thousandth of its size', () => {
  for (const side of [20, 60, 300, 1000]) {
    const size = tileSize(cubes(side, 50));
    expect(size).toBeGreaterThan(127);
    // Half a step of the lattice, whose steps are powers of two.
    expect(2 ** Math.ceil(Math.log2(size / 65535)) / 2).toBeLessThanOrEqual(side * Math.sqrt(3) * 1e-4);
  }
});
