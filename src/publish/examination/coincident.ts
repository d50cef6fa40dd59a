import type { Vec3 } from '@/core/math/mat4';
import { faceNormals } from '@/core/mesh/face-normals';
import type { BuildingModel } from '@/formats/building-model';
import type { Piece } from '../element-geometry';
import type { Check, Examined } from './examined';
import { isInside, overlap, type Point2, type Triangle2 } from './overlap';

/** Planes nearer than this, in metres, flicker; card and rounding cannot part them. */
const NEAR = 0.0008;
/** Normals that agree to this share of their length belong to one plane. */
const STEPS = 500;
/** Faces smaller than this, in square metres, nobody sees flicker. */
const SMALL_FACE = 0.0002;
/** So much of two elements, in square metres, has to lie in one another. */
const WORTH_A_WORD = 0.01;
/** Colours nearer than this look alike, so that it does not matter which of them shows. */
const SAME_COLOUR = 0.04;
/** Pairs of faces that are looked at; a model in which more lie in one plane is not looked at to its end. */
const MOST_PAIRS = 5_000_000;
const SLOTS = 2 ** 22;

/** A plane in which an element's faces lie within another's, and how many others lie there with larger faces. */
export interface CoveredPlane {
  normal: Vec3;
  /** Metres from zero along the normal, in the revision's frame. */
  distance: number;
  depth: number;
}

export interface CoincidentCheck extends Check {
  /** By row, for the smaller of the elements that lie in one another. */
  planes: Map<number, CoveredPlane[]>;
}

interface Face {
  piece: Piece;
  normal: Vec3;
  /** Metres from zero along its normal. */
  distance: number;
  /** The same along the normal of the plane's front. */
  along: number;
  corners: Triangle2;
  /** Square metres for one in the projection. */
  stretch: number;
}

/**
 * Elements with faces in the same place and of the same direction as those of another element, in another colour, where
 * nothing stands against them: the graphics card cannot tell which is in front. The one with the smaller face in the plane is named.
 */
export function findCoincident({ model, pieces }: Examined): CoincidentCheck {
  const found = new Map<string, { small: number; large: number; plane: Face; area: number }>();
  let pairs = 0;
  for (const { plane, half } of planesWithMoreThanOneLook(model, pieces.flat())) {
    const { order, low, high, side, look } = plane;
    for (let i = 0; i < order.length && pairs < MOST_PAIRS; i++) {
      const a = order[i]!;
      for (let j = i + 1; j < order.length && low[order[j]! * 2]! < high[a * 2]!; j++) {
        const b = order[j]!;
        pairs++;
        if (side[a] !== side[b] || look[a] === look[b]) continue;
        if (low[b * 2 + 1]! >= high[a * 2 + 1]! || low[a * 2 + 1]! >= high[b * 2 + 1]!) continue;
        const [one, other] = [plane.face(a), plane.face(b)];
        if (!flicker(model, one, other)) continue;
        // Those were together in the first division already.
        if (half > 0 && layer(one.along, 0) === layer(other.along, 0)) continue;
        const common = overlap(one.corners, other.corners);
        const area = common.area * one.stretch;
        if (area < 1e-9 || plane.isCovered(common.middle, a)) continue;
        const [small, large] = bySize(one.piece.element, other.piece.element, (element) => plane.areaOf(element));
        const key = `${small}/${large}`;
        const known = found.get(key);
        if (known) known.area += area;
        else found.set(key, { small, large, plane: one, area });
      }
    }
  }
  const worth = [...found.values()].filter(({ area }) => area >= WORTH_A_WORD);
  const planes = new Map<number, CoveredPlane[]>();
  for (const { small, plane } of worth) {
    const known = planes.get(small) ?? [];
    const same = known.find((one) => isSamePlane(one, plane));
    if (same) same.depth++;
    else known.push({ normal: plane.normal, distance: plane.distance, depth: 1 });
    planes.set(small, known);
  }
  const area = worth.reduce((sum, one) => sum + one.area, 0);
  return {
    rows: [...planes.keys()].sort((a, b) => a - b),
    planes,
    detail: `${area < 10 ? area.toFixed(1) : Math.round(area)} m² lie exactly in faces of other elements, so that both flicker through each other.`,
  };
}

/** Planes of faces, on either side, in which more than one look meets. */
function* planesWithMoreThanOneLook(
  model: BuildingModel,
  pieces: Piece[],
): Generator<{ plane: SharedPlane; half: number }> {
  const looks = new Map<string, number>();
  const all = pieces.map((piece): PieceFaces => {
    const { color, texture } = model.materials[piece.material]!;
    const key = `${color.join()}/${texture}`;
    if (!looks.has(key)) looks.set(key, looks.size + 1);
    return facesOf(piece, looks.get(key)!);
  });
  if (looks.size < 2) return;
  const lookIn = new Int32Array(SLOTS);
  // Planes that rounding parts in one division of space are together in the other.
  for (const half of [0, 0.5]) {
    // First only in which cells looks meet, so that fine models are not held face by face.
    lookIn.fill(0);
    for (const { look, directions, distances } of all)
      for (let i = 0; i < directions.length; i++) {
        const slot = cellOf(directions[i]!, layer(distances[i]!, half)) & (SLOTS - 1);
        lookIn[slot] = lookIn[slot] === 0 || lookIn[slot] === look ? look : -1;
      }
    const members = new Map<number, number[]>();
    all.forEach(({ directions, distances }, p) => {
      for (let i = 0; i < directions.length; i++) {
        const cell = cellOf(directions[i]!, layer(distances[i]!, half));
        if (lookIn[cell & (SLOTS - 1)] !== -1) continue;
        const known = members.get(cell);
        if (known) known.push(p, i);
        else members.set(cell, [p, i]);
      }
    });
    for (const group of members.values()) yield { plane: new SharedPlane(all, group), half };
  }
}

/** The faces in one plane, ordered for a sweep; what is costly is made for those that are asked for. */
class SharedPlane {
  /** Faces by the lower end of their boxes along the first axis of the plane. */
  readonly order: Uint32Array;
  /** Lower and upper corners of the faces' boxes, two numbers a face, projected along the plane's steepest axis. */
  readonly low: Float64Array;
  readonly high: Float64Array;
  readonly side: Int8Array;
  readonly look: Int32Array;
  private readonly faces = new Map<number, Face>();
  private areas: Map<number, number> | null = null;
  private readonly steepest: number;

  /** @param members number of the piece and of its face, one after the other */
  constructor(
    private readonly all: PieceFaces[],
    private readonly members: number[],
  ) {
    const count = members.length / 2;
    this.low = new Float64Array(count * 2).fill(Infinity);
    this.high = new Float64Array(count * 2).fill(-Infinity);
    this.side = new Int8Array(count);
    this.look = new Int32Array(count);
    this.steepest = steepestAxis(normalOf(this.all[members[0]!]!, members[1]!));
    const axes = [(this.steepest + 1) % 3, (this.steepest + 2) % 3];
    for (let i = 0; i < count; i++) {
      const { piece, faces, sides, look } = all[members[i * 2]!]!;
      const face = members[i * 2 + 1]!;
      this.side[i] = sides[face]!;
      this.look[i] = look;
      for (let corner = 0; corner < 3; corner++) {
        const at = piece.indices[faces[face]! * 3 + corner]! * 3;
        for (let k = 0; k < 2; k++) {
          const value = piece.positions[at + axes[k]!]!;
          if (value < this.low[i * 2 + k]!) this.low[i * 2 + k] = value;
          if (value > this.high[i * 2 + k]!) this.high[i * 2 + k] = value;
        }
      }
    }
    this.order = Uint32Array.from({ length: count }, (_, i) => i).sort((a, b) => this.low[a * 2]! - this.low[b * 2]!);
  }

  face(i: number): Face {
    let face = this.faces.get(i);
    if (!face) {
      face = faceOf(this.all[this.members[i * 2]!]!, this.members[i * 2 + 1]!, this.steepest);
      this.faces.set(i, face);
    }
    return face;
  }

  /** Whether something stands against a place on a face from outside, so that nobody can see it. */
  isCovered([x, y]: Point2, of: number): boolean {
    for (const i of this.order) {
      if (this.low[i * 2]! > x) return false;
      if (this.side[i] === this.side[of] || this.high[i * 2]! < x) continue;
      if (this.low[i * 2 + 1]! > y || this.high[i * 2 + 1]! < y) continue;
      if (isInside([x, y], this.face(i).corners)) return true;
    }
    return false;
  }

  /** Square metres that an element has in the plane. */
  areaOf(element: number): number {
    if (!this.areas) {
      this.areas = new Map();
      for (const i of this.order) {
        const { piece, corners, stretch } = this.face(i);
        const [a, b, c] = corners;
        const area = (stretch * Math.abs((b[0] - a[0]) * (c[1] - a[1]) - (c[0] - a[0]) * (b[1] - a[1]))) / 2;
        this.areas.set(piece.element, (this.areas.get(piece.element) ?? 0) + area);
      }
    }
    return this.areas.get(element) ?? 0;
  }
}

/** A piece's faces without those that are too small. */
interface PieceFaces {
  piece: Piece;
  /** Pieces of another number look different. */
  look: number;
  faces: Uint32Array;
  /** A number of 32 bits for the direction of every face, the same for the two sides of a plane. */
  directions: Int32Array;
  /** 1 on the front of the plane, -1 on its back. */
  sides: Int8Array;
  /** Metres from zero, along the normal of the plane's front. */
  distances: Float64Array;
}

function facesOf(piece: Piece, look: number): PieceFaces {
  const { positions, indices } = piece;
  const { normals, areas } = faceNormals(positions, indices);
  const faces = new Uint32Array(areas.length);
  const directions = new Int32Array(areas.length);
  const sides = new Int8Array(areas.length);
  const distances = new Float64Array(areas.length);
  let count = 0;
  for (let face = 0; face < areas.length; face++) {
    if (areas[face]! / 2 < SMALL_FACE) continue;
    const at = indices[face * 3]! * 3;
    const side = sideOf(normals, face * 3);
    let [distance, hash] = [0, 0];
    for (let axis = 0; axis < 3; axis++) {
      const part = side * normals[face * 3 + axis]!;
      distance += part * positions[at + axis]!;
      hash = Math.imul(hash ^ Math.round(part * STEPS), 0x85ebca6b);
      hash ^= hash >>> 13;
    }
    faces[count] = face;
    directions[count] = hash;
    sides[count] = side;
    distances[count++] = distance;
  }
  return {
    piece,
    look,
    faces: faces.subarray(0, count),
    directions: directions.subarray(0, count),
    sides: sides.subarray(0, count),
    distances: distances.subarray(0, count),
  };
}

/** A number of 32 bits for a plane. */
function cellOf(direction: number, layerOf: number): number {
  const hash = Math.imul(direction ^ layerOf, 0xc2b2ae35);
  return hash ^ (hash >>> 16);
}

/** Which side of its plane a face with this normal is on: the front looks along the first axis that it has a part in. */
function sideOf(normals: Float64Array, at: number): 1 | -1 {
  for (let axis = 0; axis < 3; axis++) {
    const part = normals[at + axis]!;
    if (Math.abs(part) > 0.5 / STEPS) return part > 0 ? 1 : -1;
  }
  return 1;
}

/** Space is divided along the normal into layers of twice the distance that flickers. */
function layer(distance: number, half: number): number {
  return Math.floor(distance / (2 * NEAR) + half);
}

function faceOf(of: PieceFaces, face: number, steepest: number): Face {
  const { positions, indices } = of.piece;
  const normal = normalOf(of, face);
  const [u, v] = [(steepest + 1) % 3, (steepest + 2) % 3];
  const corners = [0, 1, 2].map((corner) => {
    const at = indices[of.faces[face]! * 3 + corner]! * 3;
    return [positions[at + u]!, positions[at + v]!];
  }) as Triangle2;
  const along = of.distances[face]!;
  return {
    piece: of.piece,
    normal,
    distance: of.sides[face]! * along,
    along,
    corners,
    stretch: 1 / Math.abs(normal[steepest]!),
  };
}

function normalOf({ piece, faces }: PieceFaces, face: number): Vec3 {
  const at = faces[face]! * 3;
  const { normals } = faceNormals(piece.positions, piece.indices.subarray(at, at + 3));
  return [normals[0]!, normals[1]!, normals[2]!];
}

function steepestAxis(normal: Vec3): number {
  return normal.reduce((best, part, axis) => (Math.abs(part) > Math.abs(normal[best]!) ? axis : best), 0);
}

function flicker(model: BuildingModel, a: Face, b: Face): boolean {
  return a.piece.element !== b.piece.element && isSamePlane(a, b) && looksOther(model, a.piece, b.piece);
}

function isSamePlane(a: { normal: Vec3; distance: number }, b: { normal: Vec3; distance: number }): boolean {
  return (
    Math.abs(a.distance - b.distance) <= NEAR && a.normal.every((part, i) => Math.abs(part - b.normal[i]!) < 2 / STEPS)
  );
}

function looksOther(model: BuildingModel, a: Piece, b: Piece): boolean {
  if (a.material === b.material) return false;
  const [one, other] = [model.materials[a.material]!, model.materials[b.material]!];
  return one.texture !== other.texture || one.color.some((part, i) => Math.abs(part - other.color[i]!) > SAME_COLOUR);
}

/** The smaller face first; of two that are alike the later element, so that the order never hangs on chance. */
function bySize(a: number, b: number, areaOf: (element: number) => number): [small: number, large: number] {
  const [sizeA, sizeB] = [areaOf(a), areaOf(b)];
  if (Math.abs(sizeA - sizeB) > 1e-6 * Math.max(sizeA, sizeB)) return sizeA < sizeB ? [a, b] : [b, a];
  return a > b ? [a, b] : [b, a];
}
