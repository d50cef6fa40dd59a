import fc from 'fast-check';
import { expect, it } from 'vitest';
import { normalTurn } from './turn';

it('turns to the same side, by half a turn at most', () => {
  fc.assert(
    fc.property(fc.double({ min: -3.1, max: 3.1, noNaN: true }), fc.integer({ min: -9, max: 9 }), (turn, rounds) => {
      expect(normalTurn(turn + rounds * 2 * Math.PI)).toBeCloseTo(turn, 9);
    }),
  );
});
