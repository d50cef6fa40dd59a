import { SurfaceDistance, type TriangleSet } from './surface-distance';

/** Largest distance between two surfaces, seen from either (Hausdorff distance, sampled), whatever they have in common. */
export function surfaceDistance(a: TriangleSet, b: TriangleSet): number {
  return Math.max(new SurfaceDistance(b).farthest(a), new SurfaceDistance(a).farthest(b));
}
