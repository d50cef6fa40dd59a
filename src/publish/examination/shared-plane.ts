import Flatbush from 'flatbush';
import type { Vec3 } from '@/core/math/mat4';
import { STEPS, type Faces } from './large-faces';
import { areaOf, boxOf, isInside, overlap } from './overlap';

/** Planes nearer than this, in metres, flicker; card and rounding cannot part them. */
export const NEAR = 0.0008;
/** Unit normals whose parts differ by less point the same way. */
const SAME_DIRECTION = 2 / STEPS;

/** A plane in the revision's frame. */
export interface Plane {
  /** Of length one. */
  normal: Vec3;
  /** Metres from zero along the normal. */
  distance: number;
}

/** How many faces may still be looked at in all planes together; what is over is left. */
export interface Patience {
  faces: number;
}

/** The faces in one plane, on both of its sides, by their place in the list of its members. */
export class SharedPlane {
  /** Corners projected along the plane's steepest axis, six numbers a face. */
  private readonly corners: Float64Array;
  private readonly look: Int32Array;
  private readonly element: Int32Array;
  private readonly steepest: number;
  private readonly front: Side;
  private readonly back: Side;
  private areas: Map<number, number> | null = null;

  /** @param members rows of faces */
  constructor(
    private readonly all: Faces,
    private readonly members: Uint32Array,
    private readonly patience: Patience,
  ) {
    const count = members.length;
    this.corners = new Float64Array(count * 6);
    this.look = new Int32Array(count);
    this.element = new Int32Array(count);
    this.steepest = steepestAxis(this.frontOf(0));
    this.front = new Side(this.corners);
    this.back = new Side(this.corners);
    const u = (this.steepest + 1) % 3;
    const v = (this.steepest + 2) % 3;
    for (let i = 0; i < count; i++) {
      const row = members[i]!;
      const { positions, indices } = all.pieces[all.owner[row]!]!;
      this.look[i] = all.look[row]!;
      this.element[i] = all.element[row]!;
      this.sideOf(i).faces.push(i);
      for (let corner = 0; corner < 3; corner++) {
        const at = indices[all.faces[row]! * 3 + corner]! * 3;
        this.corners[i * 6 + corner * 2] = positions[at + u]!;
        this.corners[i * 6 + corner * 2 + 1] = positions[at + v]!;
      }
    }
  }

  /** Calls for faces on one side, of other elements and other looks, whose boxes overlap; for each pair once. */
  eachPair(visit: (a: number, b: number) => void): void {
    const { look, element, patience } = this;
    for (const side of [this.front, this.back]) {
      const { faces } = side;
      const common = commonest(faces, look);
      if (common === null) continue;
      // Faces of the commonest look are met by all others and need not look around themselves.
      for (const i of faces) {
        if (patience.faces <= 0) return;
        if (look[i] === common) continue;
        const [left, bottom, right, top] = boxOf(this.corners, i * 6);
        const met = side.boxes.search(left, bottom, right, top, (at, x0, y0, x1, y1) => {
          patience.faces--;
          const j = faces[at]!;
          if (look[j] === look[i] || element[j] === element[i] || (look[j] !== common && j < i)) return false;
          return x0 < right && x1 > left && y0 < top && y1 > bottom;
        });
        for (const at of met) visit(i, faces[at]!);
      }
    }
  }

  /** The plane of a face, with the face's own normal. */
  planeOf(i: number): Plane {
    const side = this.all.sides[this.members[i]!]!;
    const [x, y, z] = this.frontOf(i);
    return { normal: [side * x, side * y, side * z], distance: side * this.along(i) };
  }

  /** Whether two faces of one side lie in one plane. */
  agree(a: number, b: number): boolean {
    const { fronts } = this.all;
    return (
      Math.abs(this.along(a) - this.along(b)) <= NEAR &&
      pointAlike(fronts, this.members[a]! * 3, fronts, this.members[b]! * 3)
    );
  }

  /** Metres from zero along the normal of the plane's front. */
  along(i: number): number {
    return this.all.distances[this.members[i]!]!;
  }

  elementOf(i: number): number {
    return this.element[i]!;
  }

  lookOf(i: number): number {
    return this.look[i]!;
  }

  /** Square metres that two faces of one side have in common where nothing stands against them from outside. */
  openOverlap(a: number, b: number): number {
    const { area, x, y } = overlap(this.corners, a * 6, b * 6);
    const metres = area * this.stretch(a);
    return metres < 1e-9 || this.isCovered(x, y, a) ? 0 : metres;
  }

  /** Square metres that an element has in the plane. */
  areaOf(element: number): number {
    if (!this.areas) {
      this.areas = new Map();
      for (let i = 0; i < this.members.length; i++) {
        const area = this.stretch(i) * areaOf(this.corners, i * 6);
        this.areas.set(this.element[i]!, (this.areas.get(this.element[i]!) ?? 0) + area);
      }
    }
    return this.areas.get(element) ?? 0;
  }

  /** Unit normal of the front of a face's plane. */
  private frontOf(i: number): Vec3 {
    const at = this.members[i]! * 3;
    const { fronts } = this.all;
    return [fronts[at]!, fronts[at + 1]!, fronts[at + 2]!];
  }

  private sideOf(i: number): Side {
    return this.all.sides[this.members[i]!] === 1 ? this.front : this.back;
  }

  /** Square metres for one in the projection. */
  private stretch(i: number): number {
    return 1 / Math.abs(this.all.fronts[this.members[i]! * 3 + this.steepest]!);
  }

  /** Whether something stands against a place on a face from outside, so that nobody can see it. */
  private isCovered(x: number, y: number, of: number): boolean {
    const { faces, boxes } = this.sideOf(of) === this.front ? this.back : this.front;
    return boxes.collides(x, y, x, y, (at) => {
      this.patience.faces--;
      return isInside(x, y, this.corners, faces[at]! * 6);
    });
  }
}

/** The faces on one side of a plane. */
class Side {
  readonly faces: number[] = [];
  private tree: Flatbush | null = null;

  constructor(private readonly corners: Float64Array) {}

  /** Their boxes, by place in the list; made when they are first asked for. */
  get boxes(): Pick<Flatbush, 'search' | 'collides'> {
    if (this.faces.length === 0) return NO_BOXES;
    if (!this.tree) {
      this.tree = new Flatbush(this.faces.length);
      for (const i of this.faces) this.tree.add(...boxOf(this.corners, i * 6));
      this.tree.finish();
    }
    return this.tree;
  }
}

/** A tree needs a box. */
const NO_BOXES = { search: () => [], collides: () => false };

/** The look of most faces; null where all look alike. @param look by face */
function commonest(faces: number[], look: Int32Array): number | null {
  const counts = new Map<number, number>();
  for (const i of faces) counts.set(look[i]!, (counts.get(look[i]!) ?? 0) + 1);
  if (counts.size < 2) return null;
  return [...counts].reduce((best, one) => (one[1] > best[1] ? one : best))[0];
}

/** Whether two unit vectors, each three numbers of a list, point the same way. */
function pointAlike(a: ArrayLike<number>, fromA: number, b: ArrayLike<number>, fromB: number): boolean {
  for (let axis = 0; axis < 3; axis++)
    if (Math.abs(a[fromA + axis]! - b[fromB + axis]!) >= SAME_DIRECTION) return false;
  return true;
}

export function isSamePlane(a: Plane, b: Plane): boolean {
  return Math.abs(a.distance - b.distance) <= NEAR && pointAlike(a.normal, 0, b.normal, 0);
}

function steepestAxis(normal: Vec3): number {
  return normal.reduce((best, part, axis) => (Math.abs(part) > Math.abs(normal[best]!) ? axis : best), 0);
}
