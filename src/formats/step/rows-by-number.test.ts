import fc from 'fast-check';
import { expect, it } from 'vitest';
import { RowsByNumber } from './rows-by-number';

const HIGHEST = 2 ** 32 - 1;

it('finds the first row with a number, whether numbers are close together or far apart', () => {
  for (const max of [40, HIGHEST])
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max })), fc.integer({ min: 0, max }), (numbers, other) => {
        const rows = new RowsByNumber(Uint32Array.from(numbers));
        for (const number of [...numbers, other, HIGHEST]) expect(rows.row(number)).toBe(numbers.indexOf(number));
      }),
    );
});
