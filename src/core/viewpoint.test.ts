import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { revisionCode } from './revision-code';
import { ease, flightPose, type CameraPose } from './viewpoint';
import { viewStateSchema } from './viewpoint-schema';

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

describe('view state schema', () => {
  const good = {
    camera: { position: [0, 0, 1], target: [0, 1, 1], fov: 50 },
    visibility: { hiddenModels: [], hidden: [], only: null },
    selection: [],
  };
  const refused = (change: object) =>
    viewStateSchema.validate({ ...good, ...change }, { convert: false }).error?.message;

  it('takes a whole view and refuses what is out of bounds', () => {
    expect(viewStateSchema.validate(good).error).toBeUndefined();
    expect(refused({ camera: { ...good.camera, fov: 500 } })).toContain('fov');
    expect(refused({ camera: { ...good.camera, position: [0, 0] } })).toContain('position');
    expect(refused({ camera: { ...good.camera, position: [0, 0, Infinity] } })).toBeDefined();
    expect(refused({ selection: [{ model: 'x', guid: 'y' }] })).toContain('model');
  });
});

describe('revision codes', () => {
  it('follow ISO 19650', () => {
    expect([1, 9, 10, 123].map(revisionCode)).toEqual(['P01', 'P09', 'P10', 'P123']);
    expect(() => revisionCode(0)).toThrow(RangeError);
  });
});
