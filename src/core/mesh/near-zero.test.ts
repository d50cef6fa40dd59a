import { expect, it } from 'vitest';
import { nearZero } from './near-zero';

it('keeps what single precision would lose far away', () => {
  const far = [5_712_440.001, 402_180.25, 87.5, 5_712_441.002, 402_180.25, 86.5];
  expect(Math.fround(far[0]!)).not.toBeCloseTo(far[0]!, 3);
  const near = nearZero(far, [5_712_440, 402_180, 80, 5_712_450, 402_190, 90]);
  [0.001, 0.25, 7.5, 1.002, 0.25, 6.5].forEach((value, i) => expect(near[i]).toBeCloseTo(value, 6));
});
