import { expect, it } from 'vitest';
import { ElementPaint, PAINT, PAINT_AND_SOLID, SOLID } from './element-paint';

it('holds a colour a row, clear where none is given, and forgets the one before', () => {
  const paint = new ElementPaint(600); // more than a row of the texture
  const texel = (row: number) => [...(paint.texture.image.data as Uint8Array).subarray(row * 4, row * 4 + 4)];
  paint.set(new Map([[0, [1, 0.5, 0]] as const, [599, [0, 0, 1]] as const]));
  expect([texel(0), texel(1), texel(599)]).toEqual([
    [255, 128, 0, 255],
    [0, 0, 0, 0],
    [0, 0, 255, 255],
  ]);
  const before = paint.texture.version;
  paint.set(new Map([[1, [0, 1, 0]] as const]));
  expect([texel(0), texel(1)]).toEqual([
    [0, 0, 0, 0],
    [0, 255, 0, 255],
  ]);
  expect(paint.texture.version).toBeGreaterThan(before);
});

it('tells what is to be solid, in its own colour or in another', () => {
  const paint = new ElementPaint(4);
  const kinds = () => [0, 1, 2, 3].map((row) => (paint.texture.image.data as Uint8Array)[row * 4 + 3]);
  paint.set(new Map([[1, [1, 0, 0]] as const, [2, [1, 0, 0]] as const]), [0, 1]);
  expect(kinds()).toEqual([SOLID, PAINT_AND_SOLID, PAINT, 0]);
  paint.set(new Map());
  expect(kinds()).toEqual([0, 0, 0, 0]);
});
