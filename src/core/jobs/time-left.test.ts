import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PUBLISH_PHASES } from './phase';
import { foretellPhases, foretellWhole, timeLeft, timeUntilBegin, type PastJob } from './time-left';

const MB = 1e6;
const job = (megabytes: number, reading: number, tiling: number): PastJob => ({
  bytes: megabytes * MB,
  phases: { reading, tiling },
});

describe('the time that a publication still needs', () => {
  it('knows nothing where nothing was published before', () => {
    expect(foretellWhole([], MB)).toBeNull();
    expect(timeLeft([], { bytes: MB, phase: 'reading', elapsed: 10, elapsedInPhase: 10 })).toBeNull();
  });

  it('goes by the files of about the same size, and by their middle one', () => {
    // Large files at 1 s a megabyte, small ones at 5 s a megabyte: what starting costs weighs more on these.
    const past = [
      ...[90, 100, 110, 95, 105].map((size) => job(size, size * 1000, 0)),
      ...[1, 1.1, 0.9, 1.05, 40].map((size) => job(size, size * 5000, 0)),
    ];
    expect(foretellWhole(past, 100 * MB)).toBeCloseTo(100_000, -1);
    expect(foretellWhole(past, 1 * MB)).toBeCloseTo(5000, -1);
  });

  it('is not led astray by one that took ten times as long', () => {
    const past = [job(10, 1000, 2000), job(10, 1100, 2100), job(10, 10_000, 30_000)];
    expect(foretellWhole(past, 10 * MB)).toBe(1100 + 2100);
  });

  it('takes the pace of the phases that are over for those to come', () => {
    const past = [job(10, 1000, 4000)];
    // Reading took twice as long as usual: 8 s of tiling are foretold, 1 s of them is over.
    expect(timeLeft(past, { bytes: 10 * MB, phase: 'tiling', elapsed: 3000, elapsedInPhase: 1000 })).toBe(7000);
    // One that has taken longer than foretold is not over in no time.
    expect(timeLeft(past, { bytes: 10 * MB, phase: 'tiling', elapsed: 21_000, elapsedInPhase: 20_000 })).toBe(400);
  });

  it('grows in proportion with the file, and shrinks while a phase goes on', () => {
    const past = fc.record({
      bytes: fc.integer({ min: 1000, max: 1e9 }),
      phases: fc.record(Object.fromEntries(PUBLISH_PHASES.map((phase) => [phase, fc.integer({ min: 0, max: 1e6 })]))),
    });
    fc.assert(
      fc.property(past, fc.integer({ min: 1000, max: 1e8 }), (one, bytes) => {
        const once = foretellPhases([one], bytes)!;
        const twice = foretellPhases([one], bytes * 2)!;
        for (const phase of PUBLISH_PHASES) expect(twice[phase]).toBeCloseTo(once[phase] * 2, 3);
        const left = [0, 500, 5000].map((spent) =>
          timeLeft([one], { bytes, phase: 'reading', elapsed: spent, elapsedInPhase: spent })!,
        );
        expect(left[1]!).toBeLessThanOrEqual(left[0]!);
        expect(left[2]!).toBeLessThanOrEqual(left[1]!);
        expect(left[2]!).toBeGreaterThanOrEqual(0);
      }),
    );
  });

  it('shares what is waiting among those who work', () => {
    expect(timeUntilBegin([4000, 6000, 2000], 2)).toBe(6000);
    expect(timeUntilBegin([4000], 0)).toBe(4000);
  });
});
