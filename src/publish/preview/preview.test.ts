import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import type { Box3 } from '@/core/math/box3';
import type { Piece } from '../geometry/element-geometry';
import { plainSurfaces, type Surface } from '../pictures/pictures';
import { overview, renderPreview } from './preview';
import { Raster } from './raster';

const [WHITE, DARK, GLASS] = plainSurfaces([
  { name: '', color: [1, 1, 1, 1] },
  { name: '', color: [0.1, 0.1, 0.1, 1] },
  { name: '', color: [0, 0, 1, 0.5] },
]) as [Surface, Surface, Surface];

/** An upright square of half size `half` in the plane y = `y`, facing a viewer who looks along +Y. */
function square(y: number, half: number, material: number): Piece {
  const positions = Float64Array.of(-half, y, -half, half, y, -half, half, y, half, -half, y, half);
  const box: Box3 = [-half, y, -half, half, y, half];
  return {
    element: 0,
    material,
    positions,
    indices: Uint32Array.of(0, 1, 2, 0, 2, 3),
    colors: null,
    normals: null,
    uvs: null,
    box,
  };
}

const view = { eye: [0, -10, 0] as [number, number, number], target: [0, 0, 0] as [number, number, number], fov: 90 };

async function pixels(pieces: Piece[], surfaces: Surface[]) {
  const png = await renderPreview(pieces, surfaces, view, 100, 100);
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

  it('looks at the whole from as near as all of it is in the picture', () => {
    const box: Box3 = [0, 0, 0, 10, 20, 6];
    const { eye, target } = overview(box, 1.6);
    expect(target).toEqual([5, 10, 3]);
    expect(eye[2]).toBeGreaterThan(6);
    const corners = Float64Array.from(
      [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 10 : 0, i & 2 ? 20 : 0, i & 4 ? 6 : 0]),
    );
    const projected = new Raster(overview(box, 1.6), 160, 100).project(corners);
    const [x, y] = [projected.x.subarray(0, 8), projected.y.subarray(0, 8)];
    expect(Math.min(...x)).toBeGreaterThan(0);
    expect(Math.max(...x)).toBeLessThan(160);
    expect(Math.min(...y)).toBeGreaterThan(0);
    expect(Math.max(...y)).toBeLessThan(100);
    const spare = Math.min(...x, ...y, ...x.map((value) => 160 - value), ...y.map((value) => 100 - value));
    expect(spare).toBeLessThan(8);
  });
});
