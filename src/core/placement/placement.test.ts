import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/mat4';
import {
  AS_IN_FILE,
  fitOnePoint,
  fitTwoPoints,
  placeBox,
  placeByGeoreference,
  placePoint,
  unplacePoint,
  type Placement,
} from './placement';

const close = (a: Vec3, b: Vec3, digits = 6) => a.forEach((value, axis) => expect(value).toBeCloseTo(b[axis]!, digits));
const metres = fc.double({ min: -1e4, max: 1e4, noNaN: true });
const point = fc.tuple(metres, metres, metres) as fc.Arbitrary<Vec3>;
const placement: fc.Arbitrary<Placement> = fc.record({
  turn: fc.double({ min: -3.14, max: 3.14, noNaN: true }),
  offset: point,
});

describe('a placement', () => {
  it('turns counter-clockwise about the vertical, then moves', () => {
    const quarter: Placement = { turn: Math.PI / 2, offset: [100, 0, 3] };
    close(placePoint(quarter, [1, 0, 0]), [100, 1, 3]);
    close(placePoint(quarter, [0, 2, 1]), [98, 0, 4]);
    placeBox(quarter, [0, 0, 0, 4, 2, 1]).forEach((value, i) =>
      expect(value).toBeCloseTo([98, 0, 3, 100, 4, 4][i]!, 9),
    );
    expect(placeBox(AS_IN_FILE, [0, 1, 2, 3, 4, 5])).toEqual([0, 1, 2, 3, 4, 5]);
  });

  it('is undone by its reverse', () => {
    fc.assert(fc.property(placement, point, (placed, p) => close(unplacePoint(placed, placePoint(placed, p)), p)));
  });

  it('is found again from two points, wherever they are', () => {
    fc.assert(
      fc.property(placement, point, point, (placed, p, q) => {
        fc.pre(Math.hypot(p[0] - q[0], p[1] - q[1]) > 1);
        const { placement: found, misfit } = fitTwoPoints([p, q], [placePoint(placed, p), placePoint(placed, q)]);
        close(placePoint(found, [7, 8, 9]), placePoint(placed, [7, 8, 9]), 3);
        expect(misfit).toBeCloseTo(0, 6);
      }),
    );
  });

  it('shares a misfit between both points and tells of it', () => {
    // The targets are 10.2 m apart, the points 10: each end misses by 0.1 m.
    const { placement: found, misfit } = fitTwoPoints(
      [
        [0, 0, 0],
        [10, 0, 0],
      ],
      [
        [5, 0, 0],
        [5, 10.2, 0],
      ],
    );
    expect(misfit).toBeCloseTo(-0.2, 9);
    close(placePoint(found, [0, 0, 0]), [5, 0.1, 0]);
    close(placePoint(found, [10, 0, 0]), [5, 10.1, 0]);
    expect(() =>
      fitTwoPoints(
        [
          [0, 0, 0],
          [0, 0, 4],
        ],
        [
          [1, 1, 0],
          [1, 2, 0],
        ],
      ),
    ).toThrow('further apart');
  });

  it('moves by one point and keeps its turn', () => {
    const moved = fitOnePoint(Math.PI, [1, 2, 3], [10, 10, 10]);
    expect(moved.turn).toBe(Math.PI);
    close(placePoint(moved, [1, 2, 3]), [10, 10, 10]);
  });
});

describe('a georeference', () => {
  const home = { crs: 'EPSG:25833', eastings: 400_000, northings: 5_700_000, orthogonalHeight: 80 };

  it('places a model by where its zero lies on the map', () => {
    // 30 m east, 40 m north, 2 m higher.
    const model = { crs: 'EPSG:25833', eastings: 400_030, northings: 5_700_040, orthogonalHeight: 82 };
    expect(placeByGeoreference(home, model)).toEqual({ turn: 0, offset: [30, 40, 2] });
  });

  it('takes both turns into account', () => {
    // The project's x axis points north. A model 10 m north of it therefore lies 10 m along its x axis.
    const turned = { ...home, mapTurn: Math.PI / 2 };
    const placed = placeByGeoreference(turned, { ...home, northings: 5_700_010, mapTurn: Math.PI / 2 })!;
    close(placed.offset, [10, 0, 0]);
    expect(placed.turn).toBeCloseTo(0, 12);
    // One whose x axis points east stands turned by a quarter to the right.
    expect(placeByGeoreference(turned, home)!.turn).toBeCloseTo(-Math.PI / 2, 12);
  });

  it('says nothing where one is not on the map, or on another', () => {
    expect(placeByGeoreference(home, { latitude: 51 })).toBeNull();
    expect(placeByGeoreference(null, home)).toBeNull();
    expect(placeByGeoreference(home, { ...home, crs: 'EPSG:3067' })).toBeNull();
  });
});
