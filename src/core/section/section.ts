import { crossTriangles, type TriangleMesh } from './crossing';
import type { Path } from './path';
import { planeFrame, type Plane } from './plane';
import { regionsArea, type Region } from './region';
import { regionsOf } from './regions';

/** One element where a plane cuts it, in the plane's frame. */
export interface ElementCut {
  regions: Region[];
  /** Lines of surfaces that enclose nothing: they are drawn and never filled by guess. */
  lines: Path[];
  /** Whether all its surfaces are closed. */
  isClosed: boolean;
  /** Of its regions, holes taken off; square metres. */
  area: number;
}

/**
 * Cuts an element by a plane.
 *
 * @param meshes its triangles, in the coordinates of the plane, metres
 * @returns null where the plane does not touch it
 */
export function cutElement(meshes: readonly TriangleMesh[], plane: Plane): ElementCut | null {
  const { loops, open, isOriented } = crossTriangles(meshes, plane, planeFrame(plane));
  if (loops.length === 0 && open.length === 0) return null;
  const regions = regionsOf(loops, isOriented);
  return { regions, lines: open, isClosed: open.length === 0, area: regionsArea(regions) };
}
