import Flatbush from 'flatbush';
import type { Vec3 } from '@/core/math/mat4';
import { STEPS, type Faces } from './large-faces';
import { areaOf, isInside, overlap } from './overlap';

/** Planes nearer than this, in metres, flicker; card and rounding cannot part them. */
export const NEAR = 0.0008;
/** Unit normals whose parts differ by less point the same way. */
export const SAME_DIRECTION = 2 / STEPS;

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

/** Faces on one side of a plane, and their boxes by place in the list; null where there are none. */
interface Side {
  faces: number[];
  boxes: Flatbush | null;
}

/** The faces in one plane, on both of its sides, by their place in the list of its members. */
export class SharedPlane {
  /** Corners projected along the plane's steepest axis, six numbers a face. */
  private readonly corners: Float64Array;
  /** Lower and upper corners of the faces' boxes in that projection, two numbers a face. */
  private readonly low: Float64Array;
  private readonly high: Float64Array;
  private readonly look: Int32Array;
  private readonly element: Int32Array;
  private readonly steepest: number;
  private readonly sides = new Map<number, Side>();
  private areas: Map<number, number> | null = null;

  /** @param members rows of faces */
  constructor(
    private readonly all: Faces,
    private readonly members: number[],
    private readonly patience: Patience,
  ) {
    const count = members.length;
    this.corners = new Float64Array(count * 6);
    this.low = new Float64Array(count * 2).fill(Infinity);
    this.high = new Float64Array(count * 2).fill(-Infinity);
    this.look = new Int32Array(count);
    this.element = new Int32Array(count);
    this.steepest = steepestAxis(this.front(0));
    for (let i = 0; i < count; i++) {
      const row = members[i]!;
      const { positions, indices, element } = all.pieces[all.owner[row]!]!;
      this.look[i] = all.looks[all.owner[row]!]!;
      this.element[i] = element;
      this.project(i, positions, indices, all.faces[row]! * 3);
    }
  }

  private project(i: number, positions: Float64Array, indices: Uint32Array, first: number): void {
    const { corners, low, high } = this;
    const u = (this.steepest + 1) % 3;
    const v = (this.steepest + 2) % 3;
    for (let corner = 0; corner < 3; corner++) {
      const at = indices[first + corner]! * 3;
      const x = positions[at + u]!;
      const y = positions[at + v]!;
      corners[i * 6 + corner * 2] = x;
      corners[i * 6 + corner * 2 + 1] = y;
      if (x < low[i * 2]!) low[i * 2] = x;
      if (x > high[i * 2]!) high[i * 2] = x;
      if (y < low[i * 2 + 1]!) low[i * 2 + 1] = y;
      if (y > high[i * 2 + 1]!) high[i * 2 + 1] = y;
    }
  }

  /** Calls for faces on one side, of other elements and other looks, whose boxes overlap; for each pair once. */
  eachPair(visit: (a: number, b: number) => void): void {
    const { low, high, look, element, patience } = this;
    for (const front of [1, -1]) {
      const common = this.commonestLook(front);
      if (common === null) continue;
      const { faces, boxes } = this.on(front);
      // Faces of the commonest look are met by all others and need not look around themselves.
      for (const i of faces) {
        if (look[i] === common || patience.faces <= 0) continue;
        const [left, bottom, right, top] = [low[i * 2]!, low[i * 2 + 1]!, high[i * 2]!, high[i * 2 + 1]!];
        const met = boxes!.search(left, bottom, right, top, (at, x0, y0, x1, y1) => {
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
    const [x, y, z] = this.front(i);
    return { normal: [side * x, side * y, side * z], distance: side * this.along(i) };
  }

  /** Whether two faces of one side lie in one plane. */
  agree(a: number, b: number): boolean {
    if (Math.abs(this.along(a) - this.along(b)) > NEAR) return false;
    const { fronts } = this.all;
    const one = this.members[a]! * 3;
    const other = this.members[b]! * 3;
    for (let axis = 0; axis < 3; axis++)
      if (Math.abs(fronts[one + axis]! - fronts[other + axis]!) >= SAME_DIRECTION) return false;
    return true;
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
  private front(i: number): Vec3 {
    const at = this.members[i]! * 3;
    const { fronts } = this.all;
    return [fronts[at]!, fronts[at + 1]!, fronts[at + 2]!];
  }

  /** Square metres for one in the projection. */
  private stretch(i: number): number {
    return 1 / Math.abs(this.all.fronts[this.members[i]! * 3 + this.steepest]!);
  }

  /** Whether something stands against a place on a face from outside, so that nobody can see it. */
  private isCovered(x: number, y: number, of: number): boolean {
    const { faces, boxes } = this.on(-this.all.sides[this.members[of]!]!);
    if (!boxes) return false;
    return boxes.collides(x, y, x, y, (at) => {
      this.patience.faces--;
      return isInside(x, y, this.corners, faces[at]! * 6);
    });
  }

  /** The look of most faces on one side; null where all look alike. */
  private commonestLook(front: number): number | null {
    const counts = new Map<number, number>();
    for (const i of this.facesOn(front)) counts.set(this.look[i]!, (counts.get(this.look[i]!) ?? 0) + 1);
    if (counts.size < 2) return null;
    return [...counts].reduce((best, one) => (one[1] > best[1] ? one : best))[0];
  }

  private facesOn(front: number): number[] {
    const faces: number[] = [];
    for (let i = 0; i < this.members.length; i++) if (this.all.sides[this.members[i]!] === front) faces.push(i);
    return faces;
  }

  /** The faces on one side, in a tree of their boxes. */
  private on(front: number): Side {
    let own = this.sides.get(front);
    if (!own) {
      own = { faces: this.facesOn(front), boxes: null };
      this.sides.set(front, own);
      if (own.faces.length > 0) own.boxes = new Flatbush(own.faces.length);
      for (const i of own.faces)
        own.boxes!.add(this.low[i * 2]!, this.low[i * 2 + 1]!, this.high[i * 2]!, this.high[i * 2 + 1]!);
      own.boxes?.finish();
    }
    return own;
  }
}

function steepestAxis(normal: Vec3): number {
  return normal.reduce((best, part, axis) => (Math.abs(part) > Math.abs(normal[best]!) ? axis : best), 0);
}
