import { cutFaces, type Cuts } from '@/core/cut/cuts';
import type { Vec3 } from '@/core/math/mat4';
import { mix } from '@/core/math/vec3';
import { heightOver, type Plane } from '@/core/section/plane';
import type { Piece } from '@/publish/geometry/element-geometry';

/** What cuts leave of surfaces, for pictures that are drawn without a browser. */
export function clippedPieces(pieces: readonly Piece[], cuts: Cuts): Piece[] {
  const planes = cutFaces(cuts).map(({ plane }) => plane);
  if (planes.length === 0) return [...pieces];
  return pieces.map((piece) => {
    const corners: number[] = [];
    for (let at = 0; at < piece.indices.length; at += 3) {
      const triangle = [0, 1, 2].map((k) => pointAt(piece.positions, piece.indices[at + k]!));
      const left = planes.reduce(behind, triangle);
      for (let i = 1; i + 1 < left.length; i++) corners.push(...left[0]!, ...left[i]!, ...left[i + 1]!);
    }
    return {
      ...piece,
      positions: Float64Array.from(corners),
      indices: Uint32Array.from({ length: corners.length / 3 }, (_, i) => i),
      colors: null,
      normals: null,
      uvs: null,
    };
  });
}

/** The part of a convex polygon that lies behind a plane, by Sutherland and Hodgman. */
function behind(polygon: readonly Vec3[], plane: Plane): Vec3[] {
  return polygon.flatMap((corner, i) => {
    const next = polygon[(i + 1) % polygon.length]!;
    const [from, to] = [heightOver(plane, corner), heightOver(plane, next)];
    const kept = from <= 0 ? [corner] : [];
    return from <= 0 === to <= 0 ? kept : [...kept, mix(corner, next, from / (from - to))];
  });
}

function pointAt(positions: Float64Array, vertex: number): Vec3 {
  return [positions[vertex * 3]!, positions[vertex * 3 + 1]!, positions[vertex * 3 + 2]!];
}
