import fc from 'fast-check';
import { expect, it } from 'vitest';
import type { Piece } from '../geometry/element-geometry';
import { largeFaces } from './large-faces';
import { SharedPlane } from './shared-plane';

const point = fc.tuple(fc.nat(12), fc.nat(12));
type Point = [number, number];
const across = ([a, b, c]: Point[]) => (b![0] - a![0]) * (c![1] - a![1]) - (c![0] - a![0]) * (b![1] - a![1]);
/** Triangles on the ground, of some elements and looks, that look up or down. */
const triangles = fc.array(
  fc.record({
    corners: fc.tuple(point, point, point).filter((corners) => across(corners) !== 0),
    element: fc.nat(4),
    look: fc.nat(3),
  }),
  { minLength: 1, maxLength: 40 },
);
type Triangle = { corners: Point[]; element: number; look: number };

function planeOf(given: Triangle[], faces = 1e6): SharedPlane {
  const pieces = given.map(({ corners, element }): Piece => ({
    element,
    material: 0,
    positions: Float64Array.from(corners.flatMap(([x, y]) => [x, y, 5])),
    indices: Uint32Array.of(0, 1, 2),
    colors: null,
    normals: null,
    uvs: null,
    box: [0, 0, 5, 12, 12, 5],
  }));
  const all = largeFaces(
    pieces,
    given.map(({ look }) => look),
  );
  return new SharedPlane(
    all,
    Uint32Array.from(given, (_, row) => row),
    { faces },
  );
}

const span = (corners: Point[], axis: 0 | 1) => corners.map((corner) => corner[axis]);
function boxesOverlap(one: Point[], other: Point[]): boolean {
  return ([0, 1] as const).every(
    (axis) =>
      Math.min(...span(one, axis)) < Math.max(...span(other, axis)) &&
      Math.min(...span(other, axis)) < Math.max(...span(one, axis)),
  );
}

it('pairs what overlaps on one side, of other elements and looks, each pair once', () => {
  fc.assert(
    fc.property(triangles, (given) => {
      const pairs: string[] = [];
      planeOf(given).eachPair((a, b) => pairs.push([a, b].sort((x, y) => x - y).join()));
      const expected = given.flatMap((one, a) =>
        given.flatMap((other, b) =>
          b > a &&
          one.look !== other.look &&
          one.element !== other.element &&
          across(one.corners) > 0 === across(other.corners) > 0 &&
          boxesOverlap(one.corners, other.corners)
            ? [`${a},${b}`]
            : [],
        ),
      );
      expect(pairs.sort()).toEqual(expected.sort());
    }),
  );
});

it('tells where faces lie, what they share, and that nobody sees what something stands against', () => {
  const floor: Point[] = [
    [0, 0],
    [12, 0],
    [0, 12],
  ];
  const tile: Point[] = [
    [1, 1],
    [3, 1],
    [1, 3],
  ];
  const up = (corners: Point[], element: number): Triangle => ({ corners, element, look: element });
  const down = (corners: Point[], element: number): Triangle => up([corners[0]!, corners[2]!, corners[1]!], element);
  const open = planeOf([up(floor, 0), up(tile, 1)]);
  expect(open.planeOf(0)).toEqual({ normal: [0, 0, 1], distance: 5 });
  expect(open.openOverlap(0, 1)).toBeCloseTo(2, 12);
  expect([open.areaOf(0), open.areaOf(1), open.areaOf(2)]).toEqual([72, 2, 0]);
  expect(planeOf([up(floor, 0), up(tile, 1), down(tile, 2)]).openOverlap(0, 1)).toBe(0);
  const under = planeOf([down(floor, 0), down(tile, 1)]);
  expect(under.planeOf(1)).toEqual({ normal: [0, 0, -1], distance: -5 });
  expect(under.agree(0, 1)).toBe(true);
});

it('gives up where more lies in one place than there is patience for', () => {
  const stack = Array.from({ length: 60 }, (_, i): Triangle => ({
    corners: [
      [0, 0],
      [9, 0],
      [0, 9],
    ],
    element: i,
    look: i % 2,
  }));
  const count = (faces: number) => {
    let pairs = 0;
    planeOf(stack, faces).eachPair(() => pairs++);
    return pairs;
  };
  expect(count(1e6)).toBe(30 * 30);
  expect(count(100)).toBeLessThan(100);
});
