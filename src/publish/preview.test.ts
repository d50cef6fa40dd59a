import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import type { Box3 } from '@/core/math/box3';
import type { SurfaceMaterial } from '@/formats/building-model';
import type { Piece } from './element-geometry';
import { overview, renderPreview } from './preview';

const WHITE: SurfaceMaterial = { name: '', color: [1, 1, 1, 1] };
const DARK: SurfaceMaterial = { name: '', color: [0.1, 0.1, 0.1, 1] };
const GLASS: SurfaceMaterial = { name: '', color: [0, 0, 1, 0.5] };

/** An upright square of half size `half` in the plane y = `y`, facing a viewer who looks along +Y. */
function square(y: number, half: number, material: number): Piece {
  const positions = Float64Array.of(-half, y, -half, half, y, -half, half, y, half, -half, y, half);
  const box: Box3 = [-half, y, -half, half, y, half];
  return { element: 0, material, positions, indices: Uint32Array.of(0, 1, 2, 0, 2, 3), colors: null, box };
}

const view = { eye: [0, -10, 0] as [number, number, number], target: [0, 0, 0] as [number, number, number], fov: 90 };

async function pixels(pieces: Piece[], materials: SurfaceMaterial[]) {
  const png = await renderPreview(pieces, materials, view, 100, 100);
  const { data, info } = await sharp(png).removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return (x: number, y: number) => [...data.subarray((y * info.width + x) * 3, (y * info.width + x) * 3 + 3)];
}

describe('preview', () => {
  it('draws a surface exactly where perspective puts it', async () => {
    // At distance 10 and 90 degrees the picture is 20 m high: a square of 10 m covers the middle half.
    const at = await pixels([square(0, 5, 0)], [DARK]);
    expect(at(50, 50)[0]).toBeLessThan(60);
    for (const [x, y] of [
      [27, 50],
      [73, 50],
      [50, 27],
      [50, 73],
    ] as const)
      expect(at(x, y)[0]).toBeLessThan(60);
    for (const [x, y] of [
      [22, 50],
      [78, 50],
      [50, 22],
      [50, 78],
    ] as const)
      expect(at(x, y)[0]).toBeGreaterThan(200);
  });

  it('lets what is near cover what is far, in whatever order they come', async () => {
    const near = square(-2, 2, 0);
    const far = square(2, 8, 1);
    for (const order of [
      [near, far],
      [far, near],
    ]) {
      const at = await pixels(order, [DARK, WHITE]);
      expect(at(50, 50)[0]).toBeLessThan(60);
      expect(at(50, 80)[0]).toBeGreaterThan(150);
    }
  });

  it('tints through glass, and leaves out what lies behind the viewer', async () => {
    const at = await pixels([square(2, 8, 0), square(-2, 2, 1), square(-20, 50, 0)], [WHITE, GLASS]);
    const [r, , b] = at(50, 50);
    expect(b! - r!).toBeGreaterThan(40);
    expect(at(50, 80)[0]).toBeGreaterThan(150);
  });

  it('looks at the middle of the whole from outside it', () => {
    const { eye, target } = overview([0, 0, 0, 10, 20, 6]);
    expect(target).toEqual([5, 10, 3]);
    expect(Math.hypot(eye[0] - 5, eye[1] - 10, eye[2] - 3)).toBeGreaterThan(Math.hypot(10, 20, 6) / 2);
    expect(eye[2]).toBeGreaterThan(6);
  });
});
