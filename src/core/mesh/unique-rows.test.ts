import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { uniqueRows } from './unique-rows';

describe('unique rows', () => {
  it('agrees with comparing rows as text, for any table', () => {
    const table = fc.tuple(
      fc.integer({ min: 1, max: 5 }),
      fc.array(fc.integer({ min: -2, max: 2 }), { maxLength: 200 }),
    );
    fc.assert(
      fc.property(table, ([width, numbers]) => {
        const words = Int32Array.from(numbers.slice(0, numbers.length - (numbers.length % width)));
        const { of, first } = uniqueRows(words, width);
        const text = (row: number) => words.slice(row * width, (row + 1) * width).join();
        const seen: string[] = [];
        for (let row = 0; row < words.length / width; row++) {
          if (!seen.includes(text(row))) seen.push(text(row));
          expect(of[row]).toBe(seen.indexOf(text(row)));
        }
        expect([...first].map(text)).toEqual(seen);
      }),
    );
  });

  it('stays quick where many rows differ in their high bits alone', () => {
    const words = Uint32Array.from({ length: 200_000 }, (_, i) => i << 14);
    expect(uniqueRows(words, 1).first.length).toBe(2 ** 18 > 200_000 ? 200_000 : 2 ** 18);
  });
});
