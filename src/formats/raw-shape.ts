import { emptyBox, expandByPoint } from '@/core/math/box3';
import { transformPoint } from '@/core/math/mat4';
import type { RawShape } from '@/core/units/propose-frame';
import type { BuildingModel } from './building-model';

/** Extent and the area facing each axis of a model whose unit and up axis are not known yet, in the file's numbers. */
export function rawShape({ geometries, placements }: BuildingModel): RawShape {
  const extent = emptyBox();
  const facing: RawShape['facing'] = [0, 0, 0];
  for (const { geometry, matrix } of placements) {
    const { positions, indices } = geometries[geometry]!;
    const corner = (i: number) =>
      transformPoint(matrix, positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!);
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [corner(indices[i]!), corner(indices[i + 1]!), corner(indices[i + 2]!)];
      for (const point of [a, b, c]) expandByPoint(extent, ...point);
      const [ux, uy, uz] = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
      const [vx, vy, vz] = [c[0] - a[0], c[1] - a[1], c[2] - a[2]];
      facing[0] += Math.abs(uy * vz - uz * vy) / 2;
      facing[1] += Math.abs(uz * vx - ux * vz) / 2;
      facing[2] += Math.abs(ux * vy - uy * vx) / 2;
    }
  }
  return { extent, facing };
}
