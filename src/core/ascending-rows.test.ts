import fc from 'fast-check';
import { expect, it } from 'vitest';
import { ascendingRows } from './ascending-rows';

it('orders rows by their values, and equal ones as they came', () => {
  const value = fc.oneof(fc.nat({ max: 20 }), fc.integer({ min: 0, max: 2 ** 32 - 1 }));
  fc.assert(
    fc.property(fc.array(value, { maxLength: 300 }), (values) => {
      const byComparison = values.map((_, row) => row).sort((a, b) => values[a]! - values[b]!); // stable, as ECMAScript has it
      expect([...ascendingRows(Uint32Array.from(values))]).toEqual(byComparison);
    }),
  );
});
