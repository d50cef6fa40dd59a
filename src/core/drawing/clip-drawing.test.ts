import { describe, expect, it } from 'vitest';
import { regionsArea } from '../section/region';
import { clippedCut, windowOf } from './clip-drawing';

const LEVEL = { normal: [0, 0, 1] as [number, number, number], offset: 1 };
const square = Float64Array.of(0, 0, 4, 0, 4, 4, 0, 4);
const hole = Float64Array.of(1, 1, 1, 3, 3, 3, 3, 1);
const cut = {
  regions: [{ border: square, holes: [hole] }],
  lines: [Float64Array.of(-2, 2, 2, 2, 6, 2)],
  isClosed: true,
  area: 12,
};

describe('the part of a drawing that other cuts leave', () => {
  it('is all of it where they are far', () => {
    const window = windowOf(LEVEL, [{ normal: [1, 0, 0], offset: 50 }])!;
    expect(clippedCut(cut, window)).toBe(cut);
  });

  it('ends at their faces, holes too', () => {
    // Away is what lies east of 2: of the ring its western half stays.
    const half = clippedCut(cut, windowOf(LEVEL, [{ normal: [1, 0, 0], offset: 2 }])!)!;
    expect(half.area).toBeCloseTo(6, 6);
    expect(regionsArea(half.regions)).toBeCloseTo(6, 6);
    expect([...half.lines[0]!].map((value) => Math.round(value * 1e6) / 1e6)).toEqual([-2, 2, 2, 2]);
    const slanted = clippedCut(
      cut,
      windowOf(LEVEL, [{ normal: [Math.SQRT1_2, Math.SQRT1_2, 0], offset: 4 * Math.SQRT1_2 }])!,
    )!;
    expect(slanted.area).toBeCloseTo(6, 5);
  });

  it('is nothing beyond a face beside the plane, or where faces leave nothing', () => {
    expect(windowOf(LEVEL, [{ normal: [0, 0, 1], offset: 0.5 }])).toBeNull();
    expect(windowOf(LEVEL, [{ normal: [0, 0, -1], offset: -0.5 }])).not.toBeNull();
    expect(
      windowOf(LEVEL, [
        { normal: [1, 0, 0], offset: 0 },
        { normal: [-1, 0, 0], offset: -1 },
      ]),
    ).toBeNull();
    expect(clippedCut(cut, windowOf(LEVEL, [{ normal: [-1, 0, 0], offset: -20 }])!)).toBeNull();
  });
});
