import { hashWords } from '@/core/mesh/hash-words';
import type { BuildingModel, Geometry } from '@/formats/building-model';

/**
 * Lets placements whose geometries are equal to the last bit use one of them, so that each is looked at once: programs
 * write a pipe or a post anew wherever it stands.
 */
export function shareGeometries(model: BuildingModel): BuildingModel {
  const pool = new GeometryPool();
  const place = model.geometries.map((geometry) => pool.add(geometry));
  if (pool.geometries.length === model.geometries.length) return model;
  return {
    ...model,
    geometries: pool.geometries,
    placements: model.placements.map((one) => ({
      element: one.element,
      geometry: place[one.geometry]!,
      material: one.material,
      matrix: one.matrix,
    })),
  };
}

/** Geometries that differ from each other. */
export class GeometryPool {
  readonly geometries: Geometry[] = [];
  private readonly buckets = new Map<number, number[]>();

  /** Returns the place of the one that is equal: its own where none was before. */
  add(geometry: Geometry): number {
    const hash = hashOf(geometry);
    const bucket = this.buckets.get(hash) ?? [];
    const known = bucket.find((candidate) => isEqual(this.geometries[candidate]!, geometry));
    if (known !== undefined) return known;
    const own = this.geometries.push(geometry) - 1;
    this.buckets.set(hash, [...bucket, own]);
    return own;
  }
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
