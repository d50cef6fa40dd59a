import { describe, expect, it } from 'vitest';
import type { Mark } from './marks';
import { markShape } from './shapes';

const base: Mark = {
  id: 'a',
  kind: 'rectangle',
  ink: 'ink',
  pen: 'medium',
  points: [-0.5, 0.25, 0.5, -0.25],
  pressures: [],
  text: '',
  camera: { position: [0, -1, 0], target: [0, 0, 0], fov: 50 },
  by: { id: 'one', name: 'One' },
};
const HALF = 400;
const MIDDLE = [640, 400] as const;
const numbers = (path: string) => path.match(/-?\d+(\.\d+)?/g)!.map(Number);

describe('a mark drawn', () => {
  it('as a rectangle lies where its corners are, whichever was first', () => {
    const { path, isFilled } = markShape(base, HALF, MIDDLE);
    expect([path, isFilled]).toEqual(['M440 300H840V500H440Z', false]);
    expect(markShape({ ...base, points: [0.5, -0.25, -0.5, 0.25] }, HALF, MIDDLE).path).toBe(path);
  });

  it('as a cloud is a closed row of arcs along the rectangle, clockwise, so that they bulge outwards', () => {
    const { path } = markShape({ ...base, kind: 'cloud' }, HALF, MIDDLE);
    const arcs = path.match(/A[^A-Z]+/g)!.map(numbers);
    expect(path.startsWith('M440 300')).toBe(true);
    expect(path.endsWith('Z')).toBe(true);
    expect(arcs.length).toBeGreaterThan(20);
    for (const [, , , large, sweep, x, y] of arcs) {
      expect([large, sweep]).toEqual([0, 1]);
      const isOnSide = [440, 840].includes(x!) || [300, 500].includes(y!);
      expect(isOnSide).toBe(true);
    }
    // An arc of a chord c needs a radius of c / 2 at least.
    const [x, y] = [arcs[0]![5]!, arcs[0]![6]!];
    expect(arcs[0]![0]!).toBeGreaterThan(Math.hypot(x - 440, y - 300) / 2);
    // However flat it is, each side has one arc at least.
    expect(markShape({ ...base, kind: 'cloud', points: [0, 0, 0.5, 0.001] }, HALF, MIDDLE).path.match(/A/g)!.length).toBeGreaterThanOrEqual(4); // prettier-ignore
  });

  it('as an arrow ends in its tip, with a head that is not longer than itself', () => {
    const { path } = markShape({ ...base, kind: 'arrow' }, HALF, MIDDLE);
    expect(path.startsWith('M440 300L840 500M')).toBe(true);
    const short = markShape({ ...base, kind: 'arrow', points: [0, 0, 0.01, 0] }, HALF, MIDDLE).path;
    for (let i = 0; i < numbers(short).length; i += 2) expect(numbers(short)[i]).toBeGreaterThanOrEqual(640);
  });

  it('by hand is as broad as the pen, broader where it was pressed, and lies about its line', () => {
    const line = {
      ...base,
      kind: 'free' as const,
      points: Array.from({ length: 40 }, (_, i) => (i % 2 === 0 ? i / 40 : 0)),
    };
    const height = (pressures: number[]) => {
      const all = numbers(markShape({ ...line, pressures }, HALF, MIDDLE).path).filter((_, i) => i % 2 === 1);
      return Math.max(...all) - Math.min(...all);
    };
    const pressed = (by: number) => Array.from({ length: 20 }, () => by);
    expect(height(pressed(0.9))).toBeGreaterThan(1.5 * height(pressed(0.1)));
    expect(height([])).toBeGreaterThan(2);
    expect(height([])).toBeLessThan(12);
    expect(markShape({ ...line, pressures: [] }, HALF, MIDDLE).isFilled).toBe(true);
  });

  it('is as large as the picture', () => {
    const arcs = (half: number) =>
      markShape({ ...base, kind: 'cloud' }, half, [half * 1.6, half])
        .path.match(/A[^A-Z]+/g)!
        .map(numbers);
    const [small, large] = [arcs(HALF), arcs(4 * HALF)];
    expect(large.length).toBe(small.length);
    small.forEach((arc, i) => {
      for (const part of [0, 1, 5, 6]) expect(large[i]![part]! / 4).toBeCloseTo(arc[part]!, 1);
    });
  });
});
