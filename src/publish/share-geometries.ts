import { hashWords } from '@/core/mesh/hash-words';
import type { BuildingModel, Geometry } from '@/formats/building-model';

/**
 * Lets placements whose geometries are equal to the last bit use one of them, so that each is looked at once: programs
 * write a pipe or a post anew wherever it stands.
 */
export function shareGeometries(model: BuildingModel): BuildingModel {
  const buckets = new Map<number, number[]>();
  const geometries: Geometry[] = [];
  const place = model.geometries.map((geometry) => {
    const hash = hashOf(geometry);
    const bucket = buckets.get(hash) ?? [];
    const known = bucket.find((candidate) => isEqual(geometries[candidate]!, geometry));
    if (known !== undefined) return known;
    const own = geometries.push(geometry) - 1;
    buckets.set(hash, [...bucket, own]);
    return own;
  });
  if (geometries.length === model.geometries.length) return model;
  return {
    ...model,
    geometries,
    placements: model.placements.map((one) => ({
      element: one.element,
      geometry: place[one.geometry]!,
      material: one.material,
      matrix: one.matrix,
    })),
  };
}

const COLUMNS = ['positions', 'indices', 'colors', 'normals', 'uvs'] as const;

function hashOf({ positions, indices }: Geometry): number {
  return hashWords(indices, hashWords(new Uint32Array(positions.buffer, positions.byteOffset, positions.length)));
}

function isEqual(a: Geometry, b: Geometry): boolean {
  return COLUMNS.every((column) => {
    const [one, other] = [a[column], b[column]];
    if (!one || !other || one.length !== other.length) return one === other;
    for (let i = 0; i < one.length; i++) if (one[i] !== other[i]) return false;
    return true;
  });
}
