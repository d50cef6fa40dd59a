import { BufferAttribute, BufferGeometry, Triangle, Vector3 } from 'three';
import { MeshBVH, type HitPointInfo } from 'three-mesh-bvh';
import { nearZero } from '@/core/mesh/near-zero';
import { uniqueRows } from '@/core/mesh/unique-rows';

/** Triangles in doubles; only the vertices that `indices` name count. */
export interface TriangleSet {
  positions: ArrayLike<number>;
  indices: Uint32Array;
}

/** Beyond this a search tree is quicker than looking at every triangle. */
const WORTH_A_TREE = 48;
/** Points that are measured from a surface at most; of larger ones, every n-th. */
const POINTS = 1500;

const HIT: HitPointInfo = { point: new Vector3(), distance: 0, faceIndex: 0 };

/** Finds how far points are from a surface. */
export class SurfaceDistance {
  private readonly tree: MeshBVH | null;
  private readonly triangles: Triangle[] = [];
  private readonly point = new Vector3();
  private readonly nearest = new Vector3();
  /** The triangle of the tree that was nearest to the last point: mostly it is near the next one too. */
  private readonly last = new Triangle();
  private hasLast = false;
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
    const local = nearZero(positions, this.origin);
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(local, 3));
    geometry.setIndex(new BufferAttribute(indices.slice(), 1));
    this.tree = new MeshBVH(geometry, { setBoundingBox: false });
  }

  /**
   * Distance of a point; may be any number above `limit` where it is farther than that, and any up to `near` where it is
   * no farther.
   */
  from(x: number, y: number, z: number, limit = Infinity, near = 0): number {
    this.point.set(x - this.origin[0], y - this.origin[1], z - this.origin[2]);
    if (this.tree) return this.fromTree(this.tree, limit, near);
    let best = Infinity;
    for (const triangle of this.triangles) {
      triangle.closestPointToPoint(this.point, this.nearest);
      best = Math.min(best, this.nearest.distanceToSquared(this.point));
      if (best <= near * near) break;
    }
    return Math.sqrt(best);
  }

  private fromTree(tree: MeshBVH, limit: number, near: number): number {
    let known = Infinity;
    if (this.hasLast) {
      this.last.closestPointToPoint(this.point, this.nearest);
      known = this.nearest.distanceTo(this.point);
      if (known <= near) return known;
    }
    const hit = tree.closestPointToPoint(this.point, HIT, near, Math.min(limit, known));
    if (!hit || hit.distance >= known) return known < Infinity ? known : limit === Infinity ? 0 : limit * 2;
    const { index, attributes } = tree.geometry;
    const corner = hit.faceIndex * 3;
    this.last.setFromAttributeAndIndices(
      attributes.position!,
      index!.getX(corner),
      index!.getX(corner + 1),
      index!.getX(corner + 2),
    );
    this.hasLast = true;
    return hit.distance;
  }

  /**
   * Largest distance of a surface's vertices and face centres, of large surfaces a sample; stops at the first one beyond
   * the limit. A point that is nearer than the farthest so far is not measured to its end (A. A. Taha, A. Hanbury, “An
   * Efficient Algorithm for Calculating the Exact Hausdorff Distance”, 2015).
   *
   * @param common 1 for vertices that lie on this surface, so that they need not be measured
   */
  farthest({ positions: p, indices }: TriangleSet, limit = Infinity, common?: Uint8Array): number {
    const faces = indices.length / 3;
    const stride = Math.max(1, Math.floor((faces * 2) / POINTS));
    let farthest = 0;
    for (let face = 0; face < faces; face += stride) {
      const [a, b, c] = [indices[face * 3]! * 3, indices[face * 3 + 1]! * 3, indices[face * 3 + 2]! * 3];
      const corner = face % 3 === 0 ? a : face % 3 === 1 ? b : c;
      if (common?.[corner / 3] !== 1)
        farthest = Math.max(farthest, this.from(p[corner]!, p[corner + 1]!, p[corner + 2]!, limit, farthest));
      const x = (p[a]! + p[b]! + p[c]!) / 3;
      const y = (p[a + 1]! + p[b + 1]! + p[c + 1]!) / 3;
      const z = (p[a + 2]! + p[b + 2]! + p[c + 2]!) / 3;
      farthest = Math.max(farthest, this.from(x, y, z, limit, farthest));
      if (farthest > limit) break;
    }
    return farthest;
  }
}

/**
 * Largest distance between a surface and what is left of it after vertices were taken out, seen from either. What both
 * have in common, corners and whole faces, need not be measured.
 *
 * @param before, after triangles over the same positions; those of `after` use no others than those of `before`
 */
export function collapseDistance(
  positions: ArrayLike<number>,
  before: Uint32Array,
  after: Uint32Array,
  limit = Infinity,
): number {
  const stays = new Uint8Array(positions.length / 3);
  for (const vertex of after) stays[vertex] = 1;
  const [gone, come] = differentFaces(before, after);
  const there = new SurfaceDistance({ positions, indices: after }).farthest({ positions, indices: gone }, limit, stays);
  if (there > limit) return there;
  const whole = new SurfaceDistance({ positions, indices: before });
  return Math.max(there, whole.farthest({ positions, indices: come }, limit, stays));
}

/** The faces that only one of two surfaces over the same vertices has. */
function differentFaces(before: Uint32Array, after: Uint32Array): [Uint32Array, Uint32Array] {
  const corners = new Int32Array(before.length + after.length);
  const add = (indices: Uint32Array, at: number) => {
    for (let i = 0; i < indices.length; i += 3) {
      const a = indices[i]!;
      const b = indices[i + 1]!;
      const c = indices[i + 2]!;
      // Whichever corner comes first, a face is the same.
      const first = a < b && a < c ? 0 : b < c ? 1 : 2;
      corners[at + i] = first === 0 ? a : first === 1 ? b : c;
      corners[at + i + 1] = first === 0 ? b : first === 1 ? c : a;
      corners[at + i + 2] = first === 0 ? c : first === 1 ? a : b;
    }
  };
  add(before, 0);
  add(after, before.length);
  const { of, first } = uniqueRows(corners, 3);
  const count = before.length / 3;
  const has = [new Uint8Array(first.length), new Uint8Array(first.length)] as const;
  for (let i = 0; i < of.length; i++) has[i < count ? 0 : 1][of[i]!] = 1;
  return [facesNot(before, has[1], of), facesNot(after, has[0], of.subarray(count))];
}

/** The faces that another surface does not have, by their numbers. */
function facesNot(indices: Uint32Array, inOther: Uint8Array, numbers: Uint32Array): Uint32Array {
  const kept = new Uint32Array(indices.length);
  let to = 0;
  for (let face = 0; face * 3 < indices.length; face++) {
    if (inOther[numbers[face]!] === 1) continue;
    for (let corner = 0; corner < 3; corner++) kept[to++] = indices[face * 3 + corner]!;
  }
  return kept.slice(0, to);
}
