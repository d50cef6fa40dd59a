import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { CameraPose } from './camera';
import { ease, flightPose } from './flight';

const near = fc.double({ min: -50, max: 50, noNaN: true });
const pose: fc.Arbitrary<CameraPose> = fc
  .record({
    target: fc.tuple(near, near, near),
    away: fc.tuple(near, near, near),
    fov: fc.double({ min: 20, max: 80, noNaN: true }),
  })
  .filter(({ away }) => Math.hypot(...away) > 0.5)
  .map(({ target, away, fov }) => ({
    target,
    position: [target[0] + away[0], target[1] + away[1], target[2] + away[2]],
    fov,
  }));
const distance = ({ position, target }: CameraPose) =>
  Math.hypot(...position.map((value, axis) => value - target[axis]!));

describe('flights', () => {
  it('begin at the one pose and end at the other', () => {
    fc.assert(
      fc.property(pose, pose, (from, to) => {
        for (const [t, wanted] of [
          [0, from],
          [1, to],
        ] as const) {
          const got = flightPose(from, to, t);
          got.position.forEach((value, axis) => expect(value).toBeCloseTo(wanted.position[axis]!, 5));
          expect(got.fov).toBeCloseTo(wanted.fov, 9);
        }
      }),
    );
  });

  it('never come nearer to the target than the nearer end', () => {
    fc.assert(
      fc.property(pose, pose, fc.double({ min: 0, max: 1, noNaN: true }), (from, to, t) => {
        expect(distance(flightPose(from, to, t))).toBeGreaterThan(Math.min(distance(from), distance(to)) * 0.999);
      }),
    );
  });

  it('ease in and out', () => {
    expect([ease(-1), ease(0), ease(0.5), ease(1), ease(2)]).toEqual([0, 0, 0.5, 1, 1]);
  });
});
