import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { isEmptyBox, type Box3 } from '../math/box3';
import { boxColumns, boxesOfColumns, decodeBox, quantiseBoxes } from './element-boxes';

describe('element boxes', () => {
  const extent: Box3 = [-20, 5, 0, 40, 65, 12];
  const coordinate = (axis: number) => fc.double({ min: extent[axis]!, max: extent[axis + 3]!, noNaN: true });

  it('decode to a box that holds the exact one, larger by at most two steps', () => {
    fc.assert(
      fc.property(
        fc.tuple(coordinate(0), coordinate(0), coordinate(1), coordinate(1), coordinate(2), coordinate(2)),
        ([a, b, c, d, e, f]) => {
          const exact: Box3 = [
            Math.min(a, b),
            Math.min(c, d),
            Math.min(e, f),
            Math.max(a, b),
            Math.max(c, d),
            Math.max(e, f),
          ];
          const decoded = decodeBox(quantiseBoxes(Float64Array.from(exact), extent), 0, extent);
          for (let axis = 0; axis < 3; axis++) {
            const step = (extent[axis + 3]! - extent[axis]!) / 65535;
            expect(decoded[axis]!).toBeLessThanOrEqual(exact[axis]! + 1e-9);
            expect(decoded[axis + 3]!).toBeGreaterThanOrEqual(exact[axis + 3]! - 1e-9);
            expect(exact[axis]! - decoded[axis]!).toBeLessThanOrEqual(2 * step);
          }
        },
      ),
    );
  });

  it('keeps an element without geometry empty', () => {
    const boxes = Float64Array.of(Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity, 0, 10, 1, 2, 11, 2);
    const quantised = quantiseBoxes(boxes, extent);
    expect(isEmptyBox(decodeBox(quantised, 0, extent))).toBe(true);
    expect(isEmptyBox(decodeBox(quantised, 1, extent))).toBe(false);
    expect(isEmptyBox(decodeBox(quantised, 99, extent))).toBe(true);
  });

  it('come back from their columns as they were, empty ones too', () => {
    const corner = fc.tuple(fc.nat(65535), fc.nat(65535), fc.nat(65535));
    fc.assert(
      fc.property(fc.array(fc.tuple(corner, corner)), (rows) => {
        const quantised = Uint16Array.from(rows.flat(2));
        expect(boxesOfColumns(boxColumns(quantised))).toEqual(quantised);
      }),
    );
    expect(boxColumns(Uint16Array.of(5, 6, 7, 15, 26, 37, 6, 6, 5, 16, 6, 8))).toEqual([
      [5, 1],
      [6, 0],
      [7, -2],
      [10, 10],
      [20, 0],
      [30, 3],
    ]);
  });
});
