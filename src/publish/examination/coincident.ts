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
    const { order, along, low, high, side, look } = plane;
    const across = 1 - along;
    for (let i = 0; i < order.length && pairs < MOST_PAIRS; i++) {
      const a = order[i]!;
      for (let j = i + 1; j < order.length && low[order[j]! * 2 + along]! < high[a * 2 + along]!; j++) {
        const b = order[j]!;
        pairs++;
        if (side[a] !== side[b] || look[a] === look[b]) continue;
        if (low[b * 2 + across]! >= high[a * 2 + across]! || low[a * 2 + across]! >= high[b * 2 + across]!) continue;
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
  const keys = new Map<string, number>();
  const looks = pieces.map(({ material }) => {
    const { color, texture } = model.materials[material]!;
    const key = `${color.join()}/${texture}`;
    if (!keys.has(key)) keys.set(key, keys.size + 1);
    return keys.get(key)!;
  });
  if (keys.size < 2) return;
  const all = largeFaces(pieces, looks);
  const { owner, directions, distances } = all;
  const lookIn = new Int32Array(SLOTS);
  // Planes that rounding parts in one division of space are together in the other.
  for (const half of [0, 0.5]) {
    // First only in which cells looks meet, so that fine models are not held face by face.
    lookIn.fill(0);
    const cell = (face: number) => cellOf(directions[face]!, layer(distances[face]!, half));
    for (let face = 0; face < owner.length; face++) {
      const slot = cell(face) & (SLOTS - 1);
      const look = looks[owner[face]!]!;
      lookIn[slot] = lookIn[slot] === 0 || lookIn[slot] === look ? look : -1;
    }
    const members = new Map<number, number[]>();
    for (let face = 0; face < owner.length; face++) {
      const own = cell(face);
      if (lookIn[own & (SLOTS - 1)] !== -1) continue;
      const known = members.get(own);
      if (known) known.push(face);
      else members.set(own, [face]);
    }
    for (const group of members.values()) {
      const first = layer(distances[group[0]!]!, 0);
      const wereTogether = half > 0 && group.every((face) => layer(distances[face]!, 0) === first);
      if (!wereTogether) yield { plane: new SharedPlane(all, group), half };
    }
  }
}

/** Cells that a face may span before every place is compared with it. */
const MOST_CELLS = 64;
/** More than cells stand above each other. */
const CELL_ROW = 2 ** 22;

/** Which faces of a plane reach into which of its cells. */
interface Cells {
  left: number;
  bottom: number;
  size: number;
  faces: Map<number, number[]>;
  /** Those that span many cells. */
  wide: number[];
}

function cellAt(distance: number, size: number): number {
  return Math.min(CELL_ROW - 1, Math.max(0, Math.floor(distance / size)));
}

function cellNumber({ left, bottom, size }: Cells, x: number, y: number): number {
  return cellAt(x - left, size) * CELL_ROW + cellAt(y - bottom, size);
}

/** The faces in one plane, ordered for a sweep; what is costly is made for those that are asked for. */
class SharedPlane {
  /** The axis of the plane, 0 or 1, along which fewer faces lie beside each other. */
  readonly along: 0 | 1;
  /** Faces by the lower end of their boxes along that axis. */
  readonly order: Uint32Array;
  /** Lower and upper corners of the faces' boxes, two numbers a face, projected along the plane's steepest axis. */
  readonly low: Float64Array;
  readonly high: Float64Array;
  readonly side: Int8Array;
  readonly look: Int32Array;
  private readonly faces = new Map<number, Face>();
  private areas: Map<number, number> | null = null;
  private cells: Cells | null = null;
  private readonly steepest: number;

  /** @param members rows of faces */
  constructor(
    private readonly all: Faces,
    private readonly members: number[],
  ) {
    const count = members.length;
    this.low = new Float64Array(count * 2).fill(Infinity);
    this.high = new Float64Array(count * 2).fill(-Infinity);
    this.side = new Int8Array(count);
    this.look = new Int32Array(count);
    this.steepest = steepestAxis(normalOf(all, members[0]!));
    const axes = [(this.steepest + 1) % 3, (this.steepest + 2) % 3];
    for (let i = 0; i < count; i++) {
      const row = members[i]!;
      const piece = all.pieces[all.owner[row]!]!;
      this.side[i] = all.sides[row]!;
      this.look[i] = all.looks[all.owner[row]!]!;
      for (let corner = 0; corner < 3; corner++) {
        const at = piece.indices[all.faces[row]! * 3 + corner]! * 3;
        for (let k = 0; k < 2; k++) {
          const value = piece.positions[at + axes[k]!]!;
          if (value < this.low[i * 2 + k]!) this.low[i * 2 + k] = value;
          if (value > this.high[i * 2 + k]!) this.high[i * 2 + k] = value;
        }
      }
    }
    const along = this.crowding(0) <= this.crowding(1) ? 0 : 1;
    this.along = along;
    this.order = Uint32Array.from({ length: count }, (_, i) => i).sort(
      (a, b) => this.low[a * 2 + along]! - this.low[b * 2 + along]!,
    );
  }

  /** How many faces lie beside each other along an axis of the plane, on the average. */
  private crowding(axis: number): number {
    let [sum, start, end] = [0, Infinity, -Infinity];
    for (let i = axis; i < this.low.length; i += 2) {
      sum += this.high[i]! - this.low[i]!;
      start = Math.min(start, this.low[i]!);
      end = Math.max(end, this.high[i]!);
    }
    return sum / Math.max(end - start, 1e-9);
  }

  face(i: number): Face {
    let face = this.faces.get(i);
    if (!face) {
      face = faceOf(this.all, this.members[i]!, this.steepest);
      this.faces.set(i, face);
    }
    return face;
  }

  /** Whether something stands against a place on a face from outside, so that nobody can see it. */
  isCovered([x, y]: Point2, of: number): boolean {
    this.cells ??= this.divide();
    const near = this.cells.faces.get(cellNumber(this.cells, x, y)) ?? [];
    return [...near, ...this.cells.wide].some(
      (i) =>
        this.side[i] !== this.side[of] &&
        this.low[i * 2]! <= x &&
        this.high[i * 2]! >= x &&
        this.low[i * 2 + 1]! <= y &&
        this.high[i * 2 + 1]! >= y &&
        isInside([x, y], this.face(i).corners),
    );
  }

  /** Divides the plane into about as many cells as it has faces; a face that spans many of them is kept apart. */
  private divide(): Cells {
    const end = (k: number, from: Float64Array, pick: (a: number, b: number) => number) => {
      let value = from[k]!;
      for (let i = k; i < from.length; i += 2) value = pick(value, from[i]!);
      return value;
    };
    const [left, bottom] = [end(0, this.low, Math.min), end(1, this.low, Math.min)];
    const [right, top] = [end(0, this.high, Math.max), end(1, this.high, Math.max)];
    const size = Math.max(Math.sqrt(((right - left) * (top - bottom)) / this.order.length), 1e-3);
    const cells: Cells = { left, bottom, size, faces: new Map(), wide: [] };
    for (const i of this.order) {
      const [x0, y0] = [cellAt(this.low[i * 2]! - left, size), cellAt(this.low[i * 2 + 1]! - bottom, size)];
      const [x1, y1] = [cellAt(this.high[i * 2]! - left, size), cellAt(this.high[i * 2 + 1]! - bottom, size)];
      if ((x1 - x0 + 1) * (y1 - y0 + 1) > MOST_CELLS) {
        cells.wide.push(i);
        continue;
      }
      for (let x = x0; x <= x1; x++)
        for (let y = y0; y <= y1; y++) {
          const known = cells.faces.get(x * CELL_ROW + y);
          if (known) known.push(i);
          else cells.faces.set(x * CELL_ROW + y, [i]);
        }
    }
    return cells;
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

/** The faces of all pieces without those that are too small, a row each. */
interface Faces {
  pieces: Piece[];
  /** By piece; pieces of another number look different. */
  looks: number[];
  /** The piece. */
  owner: Uint32Array;
  /** Number of the face in its piece. */
  faces: Uint32Array;
  /** A number of 32 bits for the direction, the same for the two sides of a plane. */
  directions: Int32Array;
  /** 1 on the front of the plane, -1 on its back. */
  sides: Int8Array;
  /** Metres from zero, along the normal of the plane's front. */
  distances: Float64Array;
}

function largeFaces(pieces: Piece[], looks: number[]): Faces {
  const most = pieces.reduce((sum, { indices }) => sum + indices.length / 3, 0);
  const owner = new Uint32Array(most);
  const faces = new Uint32Array(most);
  const directions = new Int32Array(most);
  const sides = new Int8Array(most);
  const distances = new Float64Array(most);
  let count = 0;
  pieces.forEach(({ positions, indices }, piece) => {
    const { normals, areas } = faceNormals(positions, indices);
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
      owner[count] = piece;
      faces[count] = face;
      directions[count] = hash;
      sides[count] = side;
      distances[count++] = distance;
    }
  });
  return {
    pieces,
    looks,
    owner: owner.subarray(0, count),
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

function faceOf(all: Faces, row: number, steepest: number): Face {
  const piece = all.pieces[all.owner[row]!]!;
  const { positions, indices } = piece;
  const normal = normalOf(all, row);
  const [u, v] = [(steepest + 1) % 3, (steepest + 2) % 3];
  const corners = [0, 1, 2].map((corner) => {
    const at = indices[all.faces[row]! * 3 + corner]! * 3;
    return [positions[at + u]!, positions[at + v]!];
  }) as Triangle2;
  const along = all.distances[row]!;
  return {
    piece,
    normal,
    distance: all.sides[row]! * along,
    along,
    corners,
    stretch: 1 / Math.abs(normal[steepest]!),
  };
}

function normalOf({ pieces, owner, faces }: Faces, row: number): Vec3 {
  const piece = pieces[owner[row]!]!;
  const at = faces[row]! * 3;
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
