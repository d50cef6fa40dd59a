import { describe, expect, it } from 'vitest';
import type { Box3 } from '@/core/math/box3';
import { Cover } from './cover';
import { Raster } from './raster';

const VIEW = { eye: [0, -10, 0] as [number, number, number], target: [0, 0, 0] as [number, number, number], fov: 60 };
/** So many questions bring the cover up to date. */
const ENOUGH = 128;
const raster = () => new Raster(VIEW, 64, 48);
const small = (x: number, y: number): Box3 => [x - 0.2, y - 0.2, -0.2, x + 0.2, y + 0.2, 0.2];

describe('the raster', () => {
  it('bounds a box by the pixels of its corners, and knows its nearest', () => {
    // At 60° and 48 pixels, one metre at a distance of one takes 24 / tan 30° pixels.
    const focal = 24 / Math.tan(Math.PI / 6);
    const { left, right, top, bottom, nearest } = raster().bounds([-1, -1, -1, 1, 1, 1])!;
    expect(nearest).toBeCloseTo(9, 9);
    expect([left, right, top, bottom].map((pixel) => pixel.toFixed(6))).toEqual(
      [32 - focal / 9, 32 + focal / 9, 24 - focal / 9, 24 + focal / 9].map((pixel) => pixel.toFixed(6)),
    );
    expect(raster().bounds([-1, -11, -1, 1, 1, 1])).toBeNull();
  });
});

describe('the cover', () => {
  it('hides what lies behind everything drawn there, and nothing else', () => {
    const depth = new Float32Array(64 * 48).fill(Infinity);
    // A wall eight metres ahead over the left half of the picture.
    for (let y = 0; y < 48; y++) for (let x = 0; x < 32; x++) depth[y * 64 + x] = 8;
    const cover = new Cover(raster(), depth);
    expect(cover.hides(small(-3, 0))).toBe(false); // it has not looked yet
    for (let i = 1; i < ENOUGH; i++) cover.hides(small(-3, 0));
    expect(cover.hides(small(-3, 0))).toBe(true);
    expect(cover.hides(small(-3, -3))).toBe(false); // before the wall
    expect(cover.hides(small(3, 0))).toBe(false); // beside it
    expect(cover.hides([-3, -0.2, -0.2, 3, 0.2, 0.2])).toBe(false); // partly beside it
    expect(cover.hides([-1, -11, -1, 1, 1, 1])).toBe(false); // around the viewer
  });
});
