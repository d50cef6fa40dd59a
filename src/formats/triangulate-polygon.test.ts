import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { cross, dot, subtract } from '@/core/math/vec3';
import type { Vec3 } from '@/core/math/mat4';
import { triangulatePolygon } from './triangulate-polygon';

const at = (points: number[], i: number): Vec3 => [points[i * 3]!, points[i * 3 + 1]!, points[i * 3 + 2]!];

/** Areas of the triangles along a normal; negative where one is turned over. */
function areas(points: number[], triangles: number[], normal: Vec3): number[] {
  return Array.from({ length: triangles.length / 3 }, (_, i) => {
    const [a, b, c] = triangles.slice(i * 3, i * 3 + 3).map((corner) => at(points, corner)) as [Vec3, Vec3, Vec3];
    return dot(cross(subtract(b, a), subtract(c, a)), normal) / 2;
  });
}
const sum = (numbers: number[]) => numbers.reduce((total, number) => total + number, 0);

/** An L of area 3, in the plane z = 0, seen from above against the clock. */
const L = [0, 0, 0, 2, 0, 0, 2, 1, 0, 1, 1, 0, 1, 2, 0, 0, 2, 0];

describe('a polygon', () => {
  it('that bends inwards is covered once, wherever its list of corners begins', () => {
    for (let first = 0; first < 6; first++) {
      const points = [...L.slice(first * 3), ...L.slice(0, first * 3)];
      const parts = areas(points, triangulatePolygon(points), [0, 0, 1]);
      expect(parts).toHaveLength(4);
      expect(Math.min(...parts)).toBeGreaterThanOrEqual(0);
      expect(sum(parts)).toBeCloseTo(3);
    }
  });

  it('turns as its corners do, in any plane', () => {
    // The L stood up in the plane x = z, and looked at from behind.
    const stood = Array.from({ length: 6 }, (_, i) => [L[i * 3]!, L[i * 3 + 1]!, L[i * 3]!])
      .reverse()
      .flat();
    const normal: Vec3 = [Math.SQRT1_2, 0, -Math.SQRT1_2];
    const parts = areas(stood, triangulatePolygon(stood), normal);
    expect(Math.min(...parts)).toBeGreaterThanOrEqual(0);
    expect(sum(parts)).toBeCloseTo(3 * Math.SQRT2);
  });

  it('of four corners is divided where it stays whole', () => {
    const arrow = [0, 0, 0, 2, 1, 0, 0, 2, 0, 0.5, 1, 0]; // bends inwards at its last corner
    expect(areas(arrow, triangulatePolygon(arrow), [0, 0, 1]).every((area) => area > 0)).toBe(true);
    expect(triangulatePolygon([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0])).toEqual([0, 1, 2, 0, 2, 3]);
  });

  it('gives two triangles fewer than corners, each with its own three, whatever its shape', () => {
    const polygon = fc.array(fc.integer({ min: -5, max: 5 }), { minLength: 9, maxLength: 30 });
    fc.assert(
      fc.property(polygon, (numbers) => {
        const points = numbers.slice(0, numbers.length - (numbers.length % 3));
        const triangles = triangulatePolygon(points);
        expect(triangles.length).toBe((points.length / 3 - 2) * 3);
        expect(triangles.every((corner) => Number.isInteger(corner) && corner >= 0 && corner < points.length / 3)).toBe(
          true,
        );
      }),
    );
  });
});
