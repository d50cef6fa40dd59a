import { longestSide, type Box3 } from '@/core/math/box3';
import { cornerAngles } from '@/core/mesh/corner-angles';
import { cornersAround } from '@/core/mesh/corners-around';
import { DisjointSets } from '@/core/mesh/disjoint-sets';
import type { FaceNormals } from '@/core/mesh/face-normals';
import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Piece } from './element-geometry';

/** Faces that meet at less than this angle may belong to one curved surface: a pipe of twelve facets turns 30°. */
const BEND = Math.cos((35 * Math.PI) / 180);
/** Faces that turn by less than this from one direction meet at less than the above. */
const HALF_BEND = Math.cos((17.5 * Math.PI) / 180);
/** A surface counts as curved from this many directions on; a chamfered box has fewer. */
const DIRECTIONS = 6;
/** Normals that differ by less than this look alike. */
const ALIKE = Math.cos((22 * Math.PI) / 180);
/** Directions that are compared with each other before a surface is looked at more closely. */
const MOST_DIRECTIONS = 24;
/** Faces that turn by less than this have one direction. */
const SAME_DIRECTION = Math.cos((0.5 * Math.PI) / 180);
/** Corners nearer than this are one, in metres; in a small piece, than this share of its size. */
const SAME = 1e-4;
const SAME_SHARE = 1e-5;
/** Where more faces meet than this, such as in the middle of a disc of slivers, they are not compared with each other. */
const CROWD = 256;

/**
 * Normals from the shape alone: faces that turn gently into each other through enough directions make a curved surface,
 * whose normals at a point are the means of its faces there, weighted with their areas and angles.
 *
 * @returns three steps of 1/127 a triangle corner, zeros where a surface is flat; null if none is curved
 */
export function curvedNormals(piece: Piece, faces: FaceNormals): Int8Array | null {
  const { normals, areas } = faces;
  if (!mayBeCurved(normals, areas)) return null;
  const { points, count } = weldedPoints(piece);
  const shape: Shape = {
    ...faces,
    ...cornersAround(points, count),
    points,
    angles: cornerAngles(piece.positions, piece.indices),
  };
  const surfaceOf = gentleSurfaces(shape);
  const isCurved = curvedSurfaces(shape, surfaceOf);
  return isCurved.includes(1) ? cornerNormals(shape, surfaceOf, isCurved) : null;
}

/** What is known of a piece's shape. */
interface Shape extends FaceNormals {
  /** Number of its place for every triangle corner. */
  points: Uint32Array;
  /** Angle of the face at every triangle corner. */
  angles: Float32Array;
  /** The triangle corners around a point: from `start[point]` to before `start[point + 1]`. */
  start: Uint32Array;
  around: Uint32Array;
}

/** Cosine of the angle between two faces. */
function turn({ normals }: Shape, f: number, g: number): number {
  return (
    normals[f * 3]! * normals[g * 3]! +
    normals[f * 3 + 1]! * normals[g * 3 + 1]! +
    normals[f * 3 + 2]! * normals[g * 3 + 2]!
  );
}

/** By face: the number of its surface, whose faces meet in edges at which they turn gently into each other. */
function gentleSurfaces(shape: Shape): Uint32Array {
  const { areas, points, start, around } = shape;
  const surfaces = new DisjointSets(areas.length);
  const crowd = (point: number) => start[point + 1]! - start[point]!;
  for (let face = 0; face < areas.length; face++) {
    if (areas[face] === 0) continue;
    for (let side = 0; side < 3; side++) {
      const from = points[face * 3 + side]!;
      const to = points[face * 3 + ((side + 1) % 3)]!;
      const a = crowd(from) > crowd(to) ? to : from;
      const b = from + to - a;
      if (crowd(a) > CROWD) continue;
      for (let at = start[a]!; at < start[a + 1]!; at++) {
        const other = (around[at]! / 3) | 0;
        if (other <= face || areas[other] === 0) continue;
        if (points[other * 3] !== b && points[other * 3 + 1] !== b && points[other * 3 + 2] !== b) continue;
        if (turn(shape, face, other) >= BEND) surfaces.join(face, other);
      }
    }
  }
  return Uint32Array.from(areas, (_, face) => surfaces.find(face));
}

/** By number of a surface: 1 where its faces look in enough directions to be a curved one. */
function curvedSurfaces({ normals, areas }: Shape, surfaceOf: Uint32Array): Uint8Array {
  const directions = new Map<number, Set<number>>();
  const isCurved = new Uint8Array(areas.length);
  for (let face = 0; face < areas.length; face++) {
    const surface = surfaceOf[face]!;
    if (areas[face] === 0 || isCurved[surface]) continue;
    const own = directions.get(surface) ?? new Set<number>();
    directions.set(surface, own);
    const step = (axis: number) => Math.round((normals[face * 3 + axis]! + 1) * 50);
    own.add((step(0) * 128 + step(1)) * 128 + step(2));
    if (own.size >= DIRECTIONS) isCurved[surface] = 1;
  }
  return isCurved;
}

function cornerNormals(shape: Shape, surfaceOf: Uint32Array, isCurved: Uint8Array): Int8Array {
  const { normals, areas, points, start, around } = shape;
  const corners = new Int8Array(points.length * 3);
  const mean = new Float64Array(3);
  const whole = new Float64Array(3);
  const set = (corner: number, normal: ArrayLike<number>, from = 0) => {
    for (let axis = 0; axis < 3; axis++) corners[corner * 3 + axis] = Math.round(normal[from + axis]! * 127);
  };
  for (let point = 0; point + 1 < start.length; point++) {
    const isCrowded = start[point + 1]! - start[point]! > CROWD;
    let known = -1;
    let tight = false;
    for (let at = start[point]!; at < start[point + 1]!; at++) {
      const corner = around[at]!;
      const face = (corner / 3) | 0;
      const surface = surfaceOf[face]!;
      if (areas[face] === 0 || !isCurved[surface]) continue;
      if (isCrowded) {
        set(corner, normals, face * 3);
        continue;
      }
      if (surface !== known) {
        meanAround(shape, surfaceOf, point, surface, null, whole);
        tight = isTight(shape, surfaceOf, point, surface, whole);
        known = surface;
      }
      if (!tight) meanAround(shape, surfaceOf, point, surface, face, mean);
      // One normal for all corners of a surface at a point is lighter than several that hardly differ.
      const isOne = tight || mean[0]! * whole[0]! + mean[1]! * whole[1]! + mean[2]! * whole[2]! >= ALIKE;
      set(corner, isOne ? whole : mean);
    }
  }
  return corners;
}

/**
 * Unit mean of the faces of one surface around a point.
 *
 * @param into only of those that turn gently into this face; null for all
 * @param out three numbers, for the result
 */
function meanAround(
  shape: Shape,
  surfaceOf: Uint32Array,
  point: number,
  surface: number,
  into: number | null,
  out: Float64Array,
): void {
  const { normals, areas, angles, start, around } = shape;
  let [x, y, z] = [0, 0, 0];
  for (let at = start[point]!; at < start[point + 1]!; at++) {
    const other = (around[at]! / 3) | 0;
    if (surfaceOf[other] !== surface || (into !== null && turn(shape, into, other) < BEND)) continue;
    const weight = areas[other]! * angles[around[at]!]!;
    x += normals[other * 3]! * weight;
    y += normals[other * 3 + 1]! * weight;
    z += normals[other * 3 + 2]! * weight;
  }
  const length = Math.sqrt(x * x + y * y + z * z) || 1;
  out[0] = x / length;
  out[1] = y / length;
  out[2] = z / length;
}

/** Whether all faces of a surface around a point are so near to their mean that each turns gently into each. */
function isTight(
  { normals, areas, start, around }: Shape,
  surfaceOf: Uint32Array,
  point: number,
  surface: number,
  mean: Float64Array,
): boolean {
  for (let at = start[point]!; at < start[point + 1]!; at++) {
    const face = (around[at]! / 3) | 0;
    if (surfaceOf[face] !== surface || areas[face] === 0) continue;
    const [x, y, z] = [normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!];
    if (x * mean[0]! + y * mean[1]! + z * mean[2]! < HALF_BEND) return false;
  }
  return true;
}

/** Whether there are directions that turn gently into each other: most pieces are boxes, in which there are none. */
function mayBeCurved(normals: Float64Array, areas: Float64Array): boolean {
  const found: number[] = [];
  for (let face = 0; face < areas.length; face++) {
    if (areas[face] === 0) continue;
    const [x, y, z] = [normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!];
    let known = false;
    for (let i = 0; i < found.length && !known; i += 3) {
      const turn = x * found[i]! + y * found[i + 1]! + z * found[i + 2]!;
      if (turn >= BEND && turn < SAME_DIRECTION) return true;
      known = turn >= SAME_DIRECTION;
    }
    if (known) continue;
    found.push(x, y, z);
    if (found.length > MOST_DIRECTIONS * 3) return true;
  }
  return false;
}

/** Number of its place for every corner, and how many places there are; corners of one place share it, whichever vertex they use. */
function weldedPoints({ positions, indices, box }: Piece): { points: Uint32Array; count: number } {
  const step = latticeStep(box);
  const words = new Int32Array(positions.length);
  for (let i = 0; i < words.length; i++) words[i] = Math.round((positions[i]! - box[i % 3]!) / step);
  const { of, first } = uniqueRows(words, 3);
  return { points: indices.map((vertex) => of[vertex]!), count: first.length };
}

/** Metres within which corners of what fills a box are one. */
export function latticeStep(box: Box3): number {
  return Math.max(1e-9, Math.min(SAME, longestSide(box) * SAME_SHARE));
}
