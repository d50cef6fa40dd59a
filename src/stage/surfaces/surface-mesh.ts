import type { Matrix4, Ray } from 'three';
import { BufferAttribute, BufferGeometry, DoubleSide, Vector3 } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { SurfacesOutput } from '../workers/surfaces-task';
import type { Triangles } from '../workers/distance-task';

/** A hit in the frame of the mesh. */
export interface MeshHit {
  point: Vector3;
  /** Unit normal of the face, towards the ray's origin. */
  normal: Vector3;
  triangle: number;
  row: number;
  distance: number;
}

/** The surfaces of one finest tile, searchable. All coordinates are the model's own. */
export class SurfaceMesh {
  readonly geometry = new BufferGeometry();
  private readonly tree: MeshBVH | null;

  constructor(private readonly surfaces: SurfacesOutput) {
    this.geometry.setAttribute('position', new BufferAttribute(surfaces.positions, 3));
    this.geometry.setIndex(new BufferAttribute(surfaces.indices, 1));
    this.tree = surfaces.tree && MeshBVH.deserialize(surfaces.tree, this.geometry);
  }

  rowOfTriangle(triangle: number): number {
    return this.surfaces.elements[this.indices[triangle * 3]!]!;
  }

  /** Nearest hit of a ray on elements that count where it meets them. */
  raycast(ray: Ray, counts: (row: number, point: Vector3) => boolean): MeshHit | null {
    let best: MeshHit | null = null;
    for (const { distance, point, faceIndex, face } of this.tree?.raycast(ray, DoubleSide) ?? []) {
      const row = this.rowOfTriangle(faceIndex!);
      if ((best && distance >= best.distance) || !counts(row, point)) continue;
      const normal = face!.normal.clone();
      if (normal.dot(ray.direction) > 0) normal.negate();
      best = { point, normal, triangle: faceIndex!, row, distance };
    }
    return best;
  }

  /** Nearest point of elements that count, within a distance. */
  nearestPoint(
    point: Vector3,
    within: number,
    counts: (row: number) => boolean,
  ): { point: Vector3; row: number; triangle: number; distance: number } | null {
    let best: { point: Vector3; row: number; triangle: number; distance: number } | null = null;
    let reach = within;
    const found = new Vector3();
    this.tree?.shapecast({
      intersectsBounds: (box) => box.distanceToPoint(point) <= reach,
      boundsTraverseOrder: (box) => box.distanceToPoint(point),
      intersectsTriangle: (triangle, index) => {
        const row = this.rowOfTriangle(index);
        if (!counts(row)) return false;
        triangle.closestPointToPoint(point, found);
        const distance = found.distanceTo(point);
        if (distance <= reach) {
          reach = distance;
          best = { point: found.clone(), row, triangle: index, distance };
        }
        return false;
      },
    });
    return best;
  }

  /** Nearest point to a line between two points, for capsules. */
  nearestToSegment(
    a: Vector3,
    b: Vector3,
    within: number,
    counts: (row: number) => boolean,
  ): { point: Vector3; onSegment: Vector3; row: number; distance: number } | null {
    // Along a segment the distance to a surface is found by looking from a few places and going to the best one's foot.
    let best: { point: Vector3; onSegment: Vector3; row: number; distance: number } | null = null;
    const STEPS = 4;
    for (let step = 0; step <= STEPS; step++) {
      let from = a.clone().lerp(b, step / STEPS);
      for (let again = 0; again < 4; again++) {
        const near = this.nearestPoint(from, best ? Math.min(within, best.distance) : within, counts);
        if (!near) break;
        const foot = footOnSegment(near.point, a, b);
        best = { point: near.point, onSegment: foot, row: near.row, distance: foot.distanceTo(near.point) };
        if (foot.distanceToSquared(from) < 1e-10) break;
        from = foot;
      }
    }
    return best;
  }

  /** Where the surfaces meet a plane n·x = d: a segment a triangle, with its element. */
  planeCast(
    normal: Vector3,
    constant: number,
    counts: (row: number) => boolean,
  ): { row: number; from: Vector3; to: Vector3 }[] {
    const segments: { row: number; from: Vector3; to: Vector3 }[] = [];
    this.tree?.shapecast({
      intersectsBounds: (box) => {
        const centre = box.getCenter(new Vector3());
        const half = box.getSize(new Vector3()).multiplyScalar(0.5);
        const reach = Math.abs(normal.x) * half.x + Math.abs(normal.y) * half.y + Math.abs(normal.z) * half.z;
        return Math.abs(normal.dot(centre) - constant) <= reach;
      },
      intersectsTriangle: (triangle, index) => {
        const row = this.rowOfTriangle(index);
        const crossing = counts(row) ? crossTriangle([triangle.a, triangle.b, triangle.c], normal, constant) : null;
        if (crossing) segments.push({ row, from: crossing[0], to: crossing[1] });
        return false;
      },
    });
    return segments;
  }

  /** The triangles of one element, moved by a matrix. */
  trianglesOf(row: number, matrix: Matrix4): Triangles {
    const { positions, elements } = this.surfaces;
    const out: number[] = [];
    const vertexOf = new Map<number, number>();
    const indices: number[] = [];
    const at = new Vector3();
    for (const vertex of this.indices) {
      if (elements[vertex] !== row) continue;
      let own = vertexOf.get(vertex);
      if (own === undefined) {
        own = vertexOf.size;
        vertexOf.set(vertex, own);
        at.fromArray(positions, vertex * 3).applyMatrix4(matrix);
        out.push(at.x, at.y, at.z);
      }
      indices.push(own);
    }
    return { positions: Float32Array.from(out), indices: Uint32Array.from(indices) };
  }

  dispose(): void {
    this.geometry.dispose();
  }

  private get indices(): Uint32Array {
    return this.geometry.index!.array as Uint32Array;
  }
}

/** Foot of a point on the segment between two points. */
export function footOnSegment(point: Vector3, a: Vector3, b: Vector3): Vector3 {
  const along = b.clone().sub(a);
  const length2 = along.lengthSq();
  const share = length2 > 0 ? Math.min(1, Math.max(0, point.clone().sub(a).dot(along) / length2)) : 0;
  return a.clone().addScaledVector(along, share);
}

/** Where a plane crosses a triangle; null where it does not, or lies in it. */
function crossTriangle(corners: Vector3[], normal: Vector3, constant: number): [Vector3, Vector3] | null {
  const sides = corners.map((corner) => normal.dot(corner) - constant);
  const crossings: Vector3[] = [];
  for (let i = 0; i < 3; i++) {
    const [a, b] = [sides[i]!, sides[(i + 1) % 3]!];
    if (a < 0 === b < 0) continue;
    crossings.push(corners[i]!.clone().lerp(corners[(i + 1) % 3]!, a / (a - b)));
  }
  return crossings.length === 2 ? [crossings[0]!, crossings[1]!] : null;
}
