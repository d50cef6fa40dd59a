import { expect, it } from 'vitest';
import { areaOf, isInside, overlap } from './overlap';

type Triangle2 = [number, number][];

const both = (a: Triangle2, b: Triangle2) => Float64Array.from([...a, ...b].flat());
const overlapArea = (a: Triangle2, b: Triangle2) => overlap(both(a, b), 0, 6).area;
const inside = (x: number, y: number, triangle: Triangle2) => isInside(x, y, both(triangle, triangle), 6);

const HALF: Triangle2 = [
  [0, 0],
  [1, 0],
  [0, 1],
];
const moved = (triangle: Triangle2, x: number, y: number) => triangle.map(([a, b]) => [a + x, b + y]) as Triangle2;
const turned = ([a, b, c]: Triangle2): Triangle2 => [a!, c!, b!];

it('is the area that two triangles share, whichever way they turn', () => {
  // Two right triangles moved by a half along one side share a triangle of half the side.
  for (const other of [moved(HALF, 0.5, 0), turned(moved(HALF, 0.5, 0))])
    for (const one of [HALF, turned(HALF)]) expect(overlapArea(one, other)).toBeCloseTo(0.125, 12);
  expect(overlapArea(HALF, HALF)).toBeCloseTo(0.5, 12);
  // A triangle and its mirror image about the middle of its long side share only that side.
  expect(
    overlapArea(HALF, [
      [1, 1],
      [0, 1],
      [1, 0],
    ]),
  ).toBeCloseTo(0, 12);
  // About the point (0.4, 0.4) instead, they share a hexagon: 0.5 less three corners.
  const mirrored = HALF.map(([x, y]) => [0.8 - x, 0.8 - y]) as Triangle2;
  expect(overlapArea(HALF, mirrored)).toBeCloseTo(0.5 - 0.02 - 0.02 - 0.18, 12);
  expect(overlapArea(HALF, moved(HALF, 2, 0))).toBe(0);
});

it('is told with a point inside it', () => {
  const { x, y } = overlap(both(HALF, moved(HALF, 0.5, 0)), 0, 6);
  expect([inside(x, y, HALF), inside(x, y, moved(HALF, 0.5, 0))]).toEqual([true, true]);
  expect(inside(0.6, 0.6, HALF)).toBe(false);
  expect(inside(0.2, 0.2, turned(HALF))).toBe(true);
  expect(areaOf(both(HALF, turned(HALF)), 6)).toBe(0.5);
});
