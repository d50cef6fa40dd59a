import { expect, it } from 'vitest';
import { BACKS, ElementPaint, LIFT_BITS, PAINTED, SOLID } from './element-paint';

it('holds a colour a row, clear where none is given, and forgets the one before', () => {
  const paint = new ElementPaint(600); // more than a row of the texture
  const texel = (row: number) => [...(paint.texture.image.data as Uint8Array).subarray(row * 4, row * 4 + 4)];
  paint.set({ colors: new Map([[0, [1, 0.5, 0]] as const, [599, [0, 0, 1]] as const]) });
  expect([texel(0), texel(1), texel(599)]).toEqual([
    [255, 128, 0, PAINTED],
    [0, 0, 0, 0],
    [0, 0, 255, PAINTED],
  ]);
  const before = paint.texture.version;
  paint.set({ colors: new Map([[1, [0, 1, 0]] as const]) });
  expect([texel(0), texel(1)]).toEqual([
    [0, 0, 0, 0],
    [0, 255, 0, PAINTED],
  ]);
  expect(paint.texture.version).toBeGreaterThan(before);
});

it('tells what is solid, seen from behind, lifted, and all of these at once', () => {
  const paint = new ElementPaint(5);
  const bits = () => [0, 1, 2, 3, 4].map((row) => (paint.texture.image.data as Uint8Array)[row * 4 + 3]);
  const lifts = new Map([
    [3, 2],
    [4, 1000], // more than there are bits for
  ]);
  paint.set({ colors: new Map([[3, [1, 0, 0]] as const]), solid: [0, 3], backs: [1, 3], lifts });
  expect(bits()).toEqual([SOLID, BACKS, 0, PAINTED | SOLID | BACKS | (2 << LIFT_BITS), 255 & (-1 << LIFT_BITS)]);
  paint.set({});
  expect(bits()).toEqual([0, 0, 0, 0, 0]);
});
