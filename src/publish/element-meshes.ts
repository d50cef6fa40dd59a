import { determinant3 } from '@/core/math/mat4';
import type { TriangleMesh } from '@/core/section/crossing';
import type { BuildingModel } from '@/formats/building-model';
import { flipped, movePositions } from './geometry/element-geometry';

/** The triangles of every element in the model's own coordinates, metres, Z up: by row, one mesh a placement. */
export function elementMeshes({ elements, placements, geometries }: BuildingModel): TriangleMesh[][] {
  const meshes: TriangleMesh[][] = elements.guid.map(() => []);
  for (const { element, geometry, matrix } of placements) {
    const { positions, indices } = geometries[geometry]!;
    const placed = new Float64Array(positions.length);
    movePositions(positions, matrix, placed);
    meshes[element]!.push({ positions: placed, indices: determinant3(matrix) < 0 ? flipped(indices) : indices });
  }
  return meshes;
}
