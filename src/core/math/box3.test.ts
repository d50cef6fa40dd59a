import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  boxCentre,
  boxDiagonal,
  boxSize,
  emptyBox,
  expandByBox,
  expandByPoint,
  isEmptyBox,
  longestSide,
  middleSide,
  translateBox,
  type Box3,
} from './box3';

// Which of the two zeros is the lesser does not matter.
const number = fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((value) => value + 0);
const point = fc.tuple(number, number, number);

describe('boxes', () => {
  it('hold every point they were grown by and touch the outermost ones', () => {
    fc.assert(
      fc.property(fc.array(point, { minLength: 1, maxLength: 20 }), (points) => {
        const box = emptyBox();
        for (const one of points) expandByPoint(box, ...one);
        for (let axis = 0; axis < 3; axis++) {
          expect(box[axis]).toBe(Math.min(...points.map((one) => one[axis]!)));
          expect(box[axis + 3]).toBe(Math.max(...points.map((one) => one[axis]!)));
        }
      }),
    );
  });

  it('have sides of three lengths', () => {
    fc.assert(
      fc.property(fc.shuffledSubarray([2, 3, 7], { minLength: 3 }), ([x, y, z]) => {
        const box: Box3 = [1, 1, 1, 1 + x!, 1 + y!, 1 + z!];
        expect([longestSide(box), middleSide(box)]).toEqual([7, 3]);
      }),
    );
    expect(longestSide(emptyBox())).toBe(-Infinity);
  });

  it('are empty until grown, and an empty one grows nothing', () => {
    const box = emptyBox();
    expect([isEmptyBox(box), boxDiagonal(box)]).toEqual([true, 0]);
    expandByBox(box, emptyBox());
    expect(isEmptyBox(box)).toBe(true);
    expandByBox(box, [0, 0, 0, 2, 3, 6]);
    expect([boxCentre(box), boxSize(box), boxDiagonal(box)]).toEqual([[1, 1.5, 3], [2, 3, 6], 7]);
    expect(translateBox(box, [1, 1, -1])).toEqual([1, 1, -1, 3, 4, 5]);
  });
});
