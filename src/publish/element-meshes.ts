import { determinant3 } from '@/core/math/mat4';
import type { TriangleMesh } from '@/core/section/crossing';
import type { BuildingModel } from '@/formats/building-model';

/** The triangles of every element in the model's own coordinates, metres, Z up: by row, one mesh a placement. */
export function elementMeshes({ elements, placements, geometries }: BuildingModel): TriangleMesh[][] {
  const meshes: TriangleMesh[][] = elements.guid.map(() => []);
  for (const { element, geometry, matrix: m } of placements) {
    const { positions, indices } = geometries[geometry]!;
    const placed = new Float64Array(positions.length);
    for (let at = 0; at < positions.length; at += 3) {
      const [x, y, z] = [positions[at]!, positions[at + 1]!, positions[at + 2]!];
      for (let axis = 0; axis < 3; axis++)
        placed[at + axis] = m[axis]! * x + m[axis + 4]! * y + m[axis + 8]! * z + m[axis + 12]!;
    }
    meshes[element]!.push({ positions: placed, indices: determinant3(m) < 0 ? indices.slice().reverse() : indices });
  }
  return meshes;
}
