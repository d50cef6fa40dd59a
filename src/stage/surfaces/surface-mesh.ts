import type { Box3, Matrix4, Ray } from 'three';
import { BufferAttribute, BufferGeometry, DoubleSide, Triangle, Vector3 } from 'three';
import { MeshBVH, type ExtendedTriangle } from 'three-mesh-bvh';
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
  private rowTriangles: Map<number, number[]> | null = null;

  constructor(private readonly surfaces: SurfacesOutput) {
    this.geometry.setAttribute('position', new BufferAttribute(surfaces.positions, 3));
    this.geometry.setIndex(new BufferAttribute(surfaces.indices, 1));
    this.tree = surfaces.tree && MeshBVH.deserialize(surfaces.tree, this.geometry);
  }

  rowOfTriangle(triangle: number): number {
    return this.surfaces.elements[this.indices[triangle * 3]!]!;
  }

  private isClear(triangle: number): boolean {
    return this.indices[triangle * 3]! >= this.surfaces.clearFrom;
  }

  /** Nearest hit of a ray on elements that count where it meets them. @param throughGlass whether see-through surfaces do not */
  raycast(ray: Ray, counts: (row: number, point: Vector3) => boolean, throughGlass = false): MeshHit | null {
    let best: MeshHit | null = null;
    for (const { distance, point, faceIndex, face } of this.tree?.raycast(ray, DoubleSide) ?? []) {
      const row = this.rowOfTriangle(faceIndex!);
      if ((best && distance >= best.distance) || (throughGlass && this.isClear(faceIndex!)) || !counts(row, point))
        continue;
      const normal = face!.normal.clone();
      if (normal.dot(ray.direction) > 0) normal.negate();
      best = { point, normal, triangle: faceIndex!, row, distance };
    }
    return best;
  }

  /**
   * Height of the highest surface straight below, of elements that count, no steeper than given.
   *
   * @param ray straight down @param far metres @param flatness cosine of the steepest slope
   */
  floorBelow(ray: Ray, far: number, flatness: number, counts: (row: number, point: Vector3) => boolean): number | null {
    let best: number | null = null;
    for (const { point, faceIndex, face } of this.tree?.raycast(ray, DoubleSide, 0, far) ?? []) {
      if ((best !== null && point.z <= best) || Math.abs(face!.normal.z) < flatness) continue;
      if (counts(this.rowOfTriangle(faceIndex!), point)) best = point.z;
    }
    return best;
  }

  /** Visits the triangles that touch a box. */
  trianglesIn(box: Box3, visit: (triangle: ExtendedTriangle, row: number) => void): void {
    this.tree?.shapecast({
      intersectsBounds: (bounds) => bounds.intersectsBox(box),
      intersectsTriangle: (triangle, index) => {
        visit(triangle, this.rowOfTriangle(index));
        return false;
      },
    });
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

  /** How many triangles an element has. */
  countOf(row: number): number {
    return this.ofRow.get(row)?.length ?? 0;
  }

  /**
   * The triangles of one element.
   *
   * @param matrix that moves them; without, they stay in the model's own coordinates
   * @param within only those of which a corner lies in this box, in the model's own coordinates
   */
  trianglesOf(row: number, matrix?: Matrix4, within?: Box3): Triangles {
    const { positions } = this.surfaces;
    const out: number[] = [];
    const vertexOf = new Map<number, number>();
    const all = this.ofRow.get(row) ?? [];
    const triangles = within ? all.filter((triangle) => this.touches(triangle, within)) : all;
    const indices = new Uint32Array(triangles.length * 3);
    const at = new Vector3();
    triangles.forEach((triangle, i) => {
      for (let corner = 0; corner < 3; corner++) {
        const vertex = this.indices[triangle * 3 + corner]!;
        let own = vertexOf.get(vertex);
        if (own === undefined) {
          own = vertexOf.size;
          vertexOf.set(vertex, own);
          at.fromArray(positions, vertex * 3);
          if (matrix) at.applyMatrix4(matrix);
          out.push(at.x, at.y, at.z);
        }
        indices[i * 3 + corner] = own;
      }
    });
    return { positions: Float32Array.from(out), indices };
  }

  dispose(): void {
    this.geometry.dispose();
  }

  private touches(triangle: number, box: Box3): boolean {
    const at = new Vector3();
    return [0, 1, 2].some((corner) =>
      box.containsPoint(at.fromArray(this.surfaces.positions, this.indices[triangle * 3 + corner]! * 3)),
    );
  }

  /** Triangles by element; made when it is first asked for. */
  private get ofRow(): Map<number, number[]> {
    if (!this.rowTriangles) {
      this.rowTriangles = new Map();
      for (let triangle = 0; triangle * 3 < this.indices.length; triangle++) {
        const row = this.rowOfTriangle(triangle);
        const known = this.rowTriangles.get(row);
        if (known) known.push(triangle);
        else this.rowTriangles.set(row, [triangle]);
      }
    }
    return this.rowTriangles;
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

/** Number of the triangle nearest to a point; -1 where there is none. */
export function triangleNearest(positions: Float32Array, indices: Uint32Array, point: Vector3): number {
  const triangle = new Triangle();
  const near = new Vector3();
  let best = -1;
  let least = Infinity;
  for (let i = 0; i * 3 < indices.length; i++) {
    triangle.a.fromArray(positions, indices[i * 3]! * 3);
    triangle.b.fromArray(positions, indices[i * 3 + 1]! * 3);
    triangle.c.fromArray(positions, indices[i * 3 + 2]! * 3);
    const away = triangle.closestPointToPoint(point, near).distanceToSquared(point);
    if (away < least) [best, least] = [i, away];
  }
  return best;
}
