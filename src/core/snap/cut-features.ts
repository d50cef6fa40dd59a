import type { Vec3 } from '../math/mat4';
import { mix } from '../math/vec3';
import { pathPoints, type Path } from '../section/path';
import type { ElementCut } from '../section/section';
import { NO_FEATURES, type ElementFeatures, type Line } from './element-features';

type Shape = Pick<ElementCut, 'regions' | 'lines'>;

/** Corners, edges and middles of an element's cut. @param at where a place of its plane is in space */
export function cutFeatures({ regions, lines }: Shape, at: (x: number, y: number) => Vec3): ElementFeatures {
  const edges: Line[] = [];
  const corners: Vec3[] = [];
  const follow = (path: Path, isLoop: boolean) => {
    const points = pathPoints(path, at);
    corners.push(...points);
    points.forEach((point, i) => {
      const next = points[i + 1] ?? (isLoop ? points[0] : undefined);
      if (next) edges.push([point, next]);
    });
  };
  for (const { border, holes } of regions) for (const loop of [border, ...holes]) follow(loop, true);
  for (const line of lines) follow(line, false);
  return { ...NO_FEATURES, corners, edges, middles: edges.map(([a, b]) => mix(a, b, 0.5)) };
}

/** The cut face of an element. */
export interface CutFaceArea {
  /** Square metres. */
  area: number;
  /** Of its largest part. */
  outline: Vec3[];
}

/** The face of an element's cut, with the outline of the part that has most corners. */
export function cutFaceArea({ area, regions }: ElementCut, at: (x: number, y: number) => Vec3): CutFaceArea {
  const [outer] = [...regions].sort((a, b) => b.border.length - a.border.length);
  return { area, outline: outer ? pathPoints(outer.border, at) : [] };
}
