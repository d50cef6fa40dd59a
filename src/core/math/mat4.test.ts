import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  compose,
  determinant3,
  fromArray,
  identity,
  invertAffine,
  invertRigid,
  multiply,
  transformPoint,
  Y_UP_TO_Z_UP,
} from './mat4';

const entry = fc.double({ min: -100, max: 100, noNaN: true });
const affine = fc
  .array(entry, { minLength: 12, maxLength: 12 })
  .map((v) =>
    fromArray([v[0]!, v[1]!, v[2]!, 0, v[3]!, v[4]!, v[5]!, 0, v[6]!, v[7]!, v[8]!, 0, v[9]!, v[10]!, v[11]!, 1]),
  );

describe('mat4', () => {
  it('applies the right factor first', () => {
    fc.assert(
      fc.property(affine, affine, entry, entry, entry, (a, b, x, y, z) => {
        const once = transformPoint(multiply(a, b), x, y, z);
        const twice = transformPoint(a, ...transformPoint(b, x, y, z));
        once.forEach((value, axis) => expect(Math.abs(value - twice[axis]!)).toBeLessThan(1e-4));
      }),
    );
  });

  it('undoes an affine map, and finds none that would undo a flattening', () => {
    fc.assert(
      fc.property(affine, entry, entry, entry, (any, x, y, z) => {
        // Far from flat, whatever it turns and shears.
        const m = any.map((value, i) => (i % 5 === 0 && i < 15 ? value + 500 : value));
        const back = transformPoint(invertAffine(m)!, ...transformPoint(m, x, y, z));
        back.forEach((value, axis) => expect(Math.abs(value - [x, y, z][axis]!)).toBeLessThan(1e-4));
      }),
    );
    expect(invertAffine(compose([1, 2, 3], [0, 0, 0, 1], [1, 0, 1]))).toBeNull();
  });

  it('turns Y up into Z up and keeps handedness', () => {
    expect(transformPoint(Y_UP_TO_Z_UP, 1, 2, 3)).toEqual([1, -3, 2]);
    expect(determinant3(Y_UP_TO_Z_UP)).toBe(1);
  });

  it('refuses anything but sixteen numbers', () => {
    expect(() => fromArray([1, 2, 3])).toThrow(RangeError);
    expect(transformPoint(identity(), 4, 5, 6)).toEqual([4, 5, 6]);
  });

  it('undoes a rigid motion', () => {
    fc.assert(
      fc.property(entry, entry, entry, fc.double({ min: -3, max: 3, noNaN: true }), (x, y, z, turn) => {
        const motion = compose([x, y, z], [0, Math.sin(turn / 2), 0, Math.cos(turn / 2)], [1, 1, 1]);
        const back = transformPoint(invertRigid(motion), ...transformPoint(motion, 3, 4, 5));
        back.forEach((value, axis) => expect(value).toBeCloseTo([3, 4, 5][axis]!, 9));
      }),
    );
  });
});
