import { BufferAttribute, BufferGeometry, Triangle, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';

/** Triangles in doubles; only the vertices that `indices` name count. */
export interface TriangleSet {
  positions: ArrayLike<number>;
  indices: Uint32Array;
}

/** Beyond this a search tree is quicker than looking at every triangle. */
const WORTH_A_TREE = 48;
/** Points that are measured from a surface at most; of larger ones, every n-th. */
const POINTS = 1500;

/** Finds how far points are from a surface. */
export class SurfaceDistance {
  private readonly tree: MeshBVH | null;
  private readonly triangles: Triangle[] = [];
  private readonly point = new Vector3();
  private readonly nearest = new Vector3();
  private readonly origin: [number, number, number];

  constructor({ positions, indices }: TriangleSet) {
    // Near zero, single precision is exact to a hundredth of a millimetre.
    const at = (indices[0] ?? 0) * 3;
    this.origin = [positions[at] ?? 0, positions[at + 1] ?? 0, positions[at + 2] ?? 0];
    const corner = (i: number) =>
      new Vector3(...[0, 1, 2].map((axis) => positions[indices[i]! * 3 + axis]! - this.origin[axis]!));
    if (indices.length / 3 <= WORTH_A_TREE) {
      this.tree = null;
      for (let i = 0; i < indices.length; i += 3)
        this.triangles.push(new Triangle(corner(i), corner(i + 1), corner(i + 2)));
      return;
    }
    const local = Float32Array.from(positions, (value, i) => value - this.origin[i % 3]!);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(local, 3));
    geometry.setIndex(new BufferAttribute(indices.slice(), 1));
    this.tree = new MeshBVH(geometry, { setBoundingBox: false });
  }

  /** Distance of a point; may be any number above `limit` where it is farther than that. */
  from(x: number, y: number, z: number, limit = Infinity): number {
    this.point.set(x - this.origin[0], y - this.origin[1], z - this.origin[2]);
    if (this.tree)
      return (
        this.tree.closestPointToPoint(this.point, undefined, 0, limit)?.distance ?? (limit === Infinity ? 0 : limit * 2)
      );
    let best = Infinity;
    for (const triangle of this.triangles) {
      triangle.closestPointToPoint(this.point, this.nearest);
      best = Math.min(best, this.nearest.distanceToSquared(this.point));
    }
    return Math.sqrt(best);
  }

  /**
   * Largest distance of a surface's vertices and face centres, of large surfaces a sample; stops at the first one beyond
   * the limit.
   */
  farthest({ positions: p, indices }: TriangleSet, limit = Infinity): number {
    const faces = indices.length / 3;
    const stride = Math.max(1, Math.floor((faces * 2) / POINTS));
    let farthest = 0;
    for (let face = 0; face < faces; face += stride) {
      const [a, b, c] = [indices[face * 3]! * 3, indices[face * 3 + 1]! * 3, indices[face * 3 + 2]! * 3];
      const corner = [a, b, c][face % 3]!;
      farthest = Math.max(
        farthest,
        this.from(p[corner]!, p[corner + 1]!, p[corner + 2]!, limit),
        this.from(
          (p[a]! + p[b]! + p[c]!) / 3,
          (p[a + 1]! + p[b + 1]! + p[c + 1]!) / 3,
          (p[a + 2]! + p[b + 2]! + p[c + 2]!) / 3,
          limit,
        ),
      );
      if (farthest > limit) break;
    }
    return farthest;
  }
}

/** Largest distance between two surfaces, seen from either (Hausdorff distance, sampled); cut short beyond the limit. */
export function surfaceDistance(a: TriangleSet, b: TriangleSet, limit = Infinity): number {
  const there = new SurfaceDistance(b).farthest(a, limit);
  return there > limit ? there : Math.max(there, new SurfaceDistance(a).farthest(b, limit));
}
