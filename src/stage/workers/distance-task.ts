import { BufferAttribute, BufferGeometry, Matrix4, Vector3 } from 'three';
import { MeshBVH, type HitPointInfo } from 'three-mesh-bvh';
import type { Vec3 } from '@/core/math/mat4';
import type { TaskAnswer } from './tasks';

/** Triangles in stage coordinates. */
export interface Triangles {
  positions: Float32Array;
  indices: Uint32Array;
}

export interface DistanceInput {
  a: Triangles;
  b: Triangles;
}

/** The nearest two points, in stage coordinates; null where one of the two has no surface. */
export type DistanceOutput = { from: Vec3; to: Vec3; distance: number } | null;

/** The shortest distance between two bodies of triangles; 0 where they touch. */
export function elementDistance({ a, b }: DistanceInput): TaskAnswer<DistanceOutput> {
  if (a.indices.length === 0 || b.indices.length === 0) return { output: null, transfer: [] };
  const [one, other] = [geometryOf(a), geometryOf(b)];
  const tree = new MeshBVH(one);
  other.boundsTree = new MeshBVH(other);
  const from = hitPoint();
  const to = hitPoint();
  tree.closestPointToGeometry(other, new Matrix4(), from, to);
  return {
    output: { from: from.point.toArray(), to: to.point.toArray(), distance: from.point.distanceTo(to.point) },
    transfer: [],
  };
}

function hitPoint(): HitPointInfo {
  return { point: new Vector3(), distance: 0, faceIndex: 0 };
}

function geometryOf({ positions, indices }: Triangles): BufferGeometry {
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(positions, 3));
  geometry.setIndex(new BufferAttribute(indices, 1));
  return geometry;
}
