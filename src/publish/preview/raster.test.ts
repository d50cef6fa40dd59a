import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Raster } from './raster';

/** Looks along Y, so that a point at (x, 10, z) stands at a known place of the picture. */
const raster = new Raster({ eye: [0, 0, 0], target: [0, 1, 0], fov: 90 }, 60, 40);

/** Twice the signed area of a triangle. */
function area([ax, ay]: number[], [bx, by]: number[], [cx, cy]: number[]): number {
  return (bx! - ax!) * (cy! - ay!) - (cx! - ax!) * (by! - ay!);
}

it('visits the pixels whose middles lie in a triangle, each once, and no others', () => {
  const place = fc.double({ min: -20, max: 20, noNaN: true });
  fc.assert(
    fc.property(fc.array(fc.tuple(place, place), { minLength: 3, maxLength: 3 }), (corners) => {
      const at = raster.project(Float64Array.from(corners.flatMap(([x, z]) => [x, 10, z])));
      const [a, b, c] = [0, 1, 2].map((i) => [at.x[i]!, at.y[i]!]) as [number[], number[], number[]];
      const visited = new Map<number, number>();
      raster.fill(at, 0, 1, 2, (pixel, ahead) => {
        visited.set(pixel, (visited.get(pixel) ?? 0) + 1);
        expect(ahead).toBeCloseTo(10, 6);
      });
      const whole = area(a, b, c);
      if (Math.abs(whole) < 1e-6) return;
      for (let pixel = 0; pixel < 60 * 40; pixel++) {
        const middle = [(pixel % 60) + 0.5, Math.floor(pixel / 60) + 0.5];
        const shares = [area(middle, b, c), area(a, middle, c), area(a, b, middle)].map((part) => part / whole);
        const least = Math.min(...shares);
        if (Math.abs(least) < 1e-6) continue; // on the rim, where rounding decides
        expect(visited.get(pixel) ?? 0).toBe(least > 0 ? 1 : 0);
      }
    }),
    { numRuns: 60 },
  );
});

it('tells how far ahead a slanted face is at every pixel', () => {
  // The plane y = 10 + x: the middle of the picture sees it at 10, a quarter to the right at 10 / (1 - 0.5).
  const at = raster.project(Float64Array.from([-8, 2, -30, 90, 100, -30, 0, 10, 400]));
  const seen = new Map<number, number>();
  raster.fill(at, 0, 1, 2, (pixel, ahead) => seen.set(pixel, ahead));
  for (const column of [30, 40]) {
    const slope = (column + 0.5 - 30) / 20; // x by y of the ray
    expect(seen.get(20 * 60 + column)).toBeCloseTo(10 / (1 - slope), 6);
  }
});
