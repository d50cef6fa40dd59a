import { boxSize, type Box3 } from '@/core/math/box3';
import { invertRigid, multiply, type Mat4 } from '@/core/math/mat4';
import { cornerAngles } from '@/core/mesh/corner-angles';
import { DisjointSets } from '@/core/mesh/disjoint-sets';
import { faceNormals, type FaceNormals } from '@/core/mesh/face-normals';
import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Piece } from './element-geometry';
import type { Share } from './shares';

/** Faces that meet at less than this angle may belong to one curved surface: a pipe of twelve facets turns 30°. */
const BEND = Math.cos((35 * Math.PI) / 180);
/** Faces that turn by less than this from one direction meet at less than the above. */
const HALF_BEND = Math.cos((17.5 * Math.PI) / 180);
/** A surface counts as curved from this many directions on; a chamfered box has fewer. */
const DIRECTIONS = 6;
/** Normals that differ by less than this look alike. */
const ALIKE = Math.cos((15 * Math.PI) / 180);
/** A corner's normal this near to its face's own is flat. */
const FLAT = Math.cos((2 * Math.PI) / 180);
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
 * Says where a piece is curved: gives the vertices of curved surfaces normals and those of flat ones zeros, and parts
 * vertices that belong to both. Normals that came with the file are taken at their word; without them, faces that turn
 * gently into each other through six or more directions make a curved surface, whose normals are the means of its
 * faces', weighted with their areas and with their angles at the corner, so that it does not matter how they are divided
 * into triangles. A flat side that runs into a rounding belongs to its surface.
 */
export function smooth(piece: Piece): Piece {
  return smoothed(piece, smoothingOf(piece));
}

/** The same for all pieces of a model; those of one shape without normals of their own are looked at once. */
export function smoothAll(pieces: Piece[], shares: (Share | null)[]): Piece[] {
  const known = new Map<number, { smoothing: Smoothing | null; back: Mat4 }>();
  return pieces.map((piece, i) => {
    const share = shares[i];
    if (!share || piece.normals) return smooth(piece);
    const first = known.get(share.shape);
    if (first) {
      const normals = first.smoothing && turnNormals(first.smoothing.normals, multiply(share.motion, first.back));
      return smoothed(piece, first.smoothing && { ...first.smoothing, normals: normals! });
    }
    const smoothing = smoothingOf(piece);
    known.set(share.shape, { smoothing, back: invertRigid(share.motion) });
    return smoothed(piece, smoothing);
  });
}

/** What makes a piece smooth: which of its vertices to take, the triangles of these, and their normals. */
interface Smoothing {
  vertices: Uint32Array;
  indices: Uint32Array;
  normals: Int8Array;
}

function smoothed(piece: Piece, smoothing: Smoothing | null): Piece {
  if (!smoothing) return { ...piece, normals: null };
  const { vertices, indices, normals } = smoothing;
  return { ...piece, ...pickVertices(piece, vertices), indices, normals };
}

/** Null where all of a piece is flat. */
function smoothingOf(piece: Piece): Smoothing | null {
  const faces = faceNormals(piece.positions, piece.indices);
  const corners = piece.normals ? givenNormals(piece, faces) : derivedNormals(piece, faces);
  if (!corners) return null;
  const count = piece.indices.length;
  const rows = new Int32Array(count * 2);
  for (let i = 0; i < count; i++) {
    rows[i * 2] = piece.indices[i]!;
    rows[i * 2 + 1] =
      (corners[i * 3]! & 255) | ((corners[i * 3 + 1]! & 255) << 8) | ((corners[i * 3 + 2]! & 255) << 16);
  }
  const { of, first } = uniqueRows(rows, 2);
  const vertices = first.map((corner) => piece.indices[corner]!);
  const normals = new Int8Array(first.length * 3);
  first.forEach((corner, i) => normals.set(corners.subarray(corner * 3, corner * 3 + 3), i * 3));
  return { vertices, indices: of, normals };
}

/** Normals under a rigid motion. */
export function turnNormals(normals: Int8Array, m: Mat4): Int8Array {
  const out = new Int8Array(normals.length);
  for (let i = 0; i < normals.length; i += 3) {
    const [x, y, z] = [normals[i]!, normals[i + 1]!, normals[i + 2]!];
    for (let row = 0; row < 3; row++) out[i + row] = Math.round(m[row]! * x + m[4 + row]! * y + m[8 + row]! * z);
  }
  return out;
}

/** The columns of a piece for a choice of its vertices. */
export function pickVertices(
  piece: Piece,
  vertices: Uint32Array,
): Pick<Piece, 'positions' | 'colors' | 'normals' | 'uvs'> {
  const pick = <T extends Float64Array | Float32Array | Uint8Array | Int8Array>(from: T, to: T, width: number): T => {
    for (let i = 0; i < vertices.length; i++)
      for (let c = 0; c < width; c++) to[i * width + c] = from[vertices[i]! * width + c]!;
    return to;
  };
  return {
    positions: pick(piece.positions, new Float64Array(vertices.length * 3), 3),
    colors: piece.colors && pick(piece.colors, new Uint8Array(vertices.length * 4), 4),
    normals: piece.normals && pick(piece.normals, new Int8Array(vertices.length * 3), 3),
    uvs: piece.uvs && pick(piece.uvs, new Float32Array(vertices.length * 2), 2),
  };
}

/** Normals a corner from the piece's own; null if all of it is flat. */
function givenNormals({ indices, normals: given }: Piece, { normals }: FaceNormals): Int8Array | null {
  const corners = new Int8Array(indices.length * 3);
  let curved = false;
  for (let face = 0; face * 3 < indices.length; face++) {
    const [x, y, z] = [normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!];
    const turns = [0, 1, 2].map((corner) => {
      const at = indices[face * 3 + corner]! * 3;
      const length = Math.hypot(given![at]!, given![at + 1]!, given![at + 2]!);
      return length === 0 ? 0 : (given![at]! * x + given![at + 1]! * y + given![at + 2]! * z) / length;
    });
    // Zeros or normals that lie in the face tell nothing; normals on the wrong side are turned over.
    if (turns.some((turn) => Math.abs(turn) < 0.05) || turns.every((turn) => Math.abs(turn) > FLAT)) continue;
    curved = true;
    for (let corner = 0; corner < 3; corner++) {
      const side = Math.sign(turns[corner]!);
      for (let axis = 0; axis < 3; axis++)
        corners[(face * 3 + corner) * 3 + axis] = side * given![indices[face * 3 + corner]! * 3 + axis]!;
    }
  }
  return curved ? corners : null;
}

/** Normals a corner from the shape; null if none of it is curved. */
function derivedNormals(piece: Piece, { normals, areas }: FaceNormals): Int8Array | null {
  const { indices } = piece;
  const count = indices.length / 3;
  if (!mayBeCurved(normals, areas)) return null;
  const points = weldedPoints(piece);
  const { start, around } = cornersAround(points);
  const angles = cornerAngles(piece.positions, indices);
  const turn = (f: number, g: number) =>
    normals[f * 3]! * normals[g * 3]! +
    normals[f * 3 + 1]! * normals[g * 3 + 1]! +
    normals[f * 3 + 2]! * normals[g * 3 + 2]!;

  const crowd = (point: number) => start[point + 1]! - start[point]!;

  const surfaces = new DisjointSets(count);
  for (let face = 0; face < count; face++) {
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
        if (turn(face, other) >= BEND) surfaces.join(face, other);
      }
    }
  }
  const surfaceOf = Uint32Array.from({ length: count }, (_, face) => surfaces.find(face));

  /** By surface: distinct directions, until there are enough. */
  const directions = new Map<number, Set<number>>();
  for (let face = 0; face < count; face++) {
    if (areas[face] === 0) continue;
    const own = directions.get(surfaceOf[face]!) ?? new Set<number>();
    directions.set(surfaceOf[face]!, own);
    if (own.size >= DIRECTIONS) continue;
    const step = (axis: number) => Math.round((normals[face * 3 + axis]! + 1) * 50);
    own.add((step(0) * 128 + step(1)) * 128 + step(2));
  }
  const isCurved = new Uint8Array(count);
  for (const [surface, { size }] of directions) isCurved[surface] = size >= DIRECTIONS ? 1 : 0;
  if (!isCurved.includes(1)) return null;

  const corners = new Int8Array(indices.length * 3);
  const mean = new Float64Array(3);
  const whole = new Float64Array(3);
  /** Fills in the unit mean of the faces of one surface around a point; of those that turn gently into a face, where one is given. */
  const meanAround = (point: number, surface: number, into: number | null, out: Float64Array): void => {
    let [x, y, z] = [0, 0, 0];
    for (let at = start[point]!; at < start[point + 1]!; at++) {
      const other = (around[at]! / 3) | 0;
      if (surfaceOf[other] !== surface || (into !== null && turn(into, other) < BEND)) continue;
      const weight = areas[other]! * angles[around[at]!]!;
      x += normals[other * 3]! * weight;
      y += normals[other * 3 + 1]! * weight;
      z += normals[other * 3 + 2]! * weight;
    }
    const length = Math.sqrt(x * x + y * y + z * z) || 1;
    out[0] = x / length;
    out[1] = y / length;
    out[2] = z / length;
  };
  /** Whether all faces of a surface around a point are so near to their mean that each turns gently into each. */
  const isTight = (point: number, surface: number, [x, y, z]: Float64Array): boolean => {
    for (let at = start[point]!; at < start[point + 1]!; at++) {
      const face = (around[at]! / 3) | 0;
      if (surfaceOf[face] !== surface || areas[face] === 0) continue;
      if (normals[face * 3]! * x! + normals[face * 3 + 1]! * y! + normals[face * 3 + 2]! * z! < HALF_BEND) return false;
    }
    return true;
  };
  for (let point = 0; point + 1 < start.length; point++) {
    const isCrowded = crowd(point) > CROWD;
    let known = -1;
    let tight = false;
    for (let at = start[point]!; at < start[point + 1]!; at++) {
      const corner = around[at]!;
      const face = (corner / 3) | 0;
      const surface = surfaceOf[face]!;
      if (areas[face] === 0 || !isCurved[surface]) continue;
      if (isCrowded) {
        for (let axis = 0; axis < 3; axis++) corners[corner * 3 + axis] = Math.round(normals[face * 3 + axis]! * 127);
        continue;
      }
      if (surface !== known) {
        meanAround(point, surface, null, whole);
        tight = isTight(point, surface, whole);
        known = surface;
      }
      if (!tight) meanAround(point, surface, face, mean);
      // One normal for all corners of a surface at a point is lighter than several that hardly differ.
      const isOne = tight || mean[0]! * whole[0]! + mean[1]! * whole[1]! + mean[2]! * whole[2]! >= ALIKE;
      const normal = isOne ? whole : mean;
      for (let axis = 0; axis < 3; axis++) corners[corner * 3 + axis] = Math.round(normal[axis]! * 127);
    }
  }
  return corners;
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

/** Number of its place for every corner; corners of one place share it, whichever vertex they use. */
function weldedPoints({ positions, indices, box }: Piece): Uint32Array {
  const step = latticeStep(box);
  const words = new Int32Array(positions.length);
  for (let i = 0; i < words.length; i++) words[i] = Math.round((positions[i]! - box[i % 3]!) / step);
  const { of } = uniqueRows(words, 3);
  return indices.map((vertex) => of[vertex]!);
}

/** Metres within which corners of what fills a box are one. */
export function latticeStep(box: Box3): number {
  return Math.max(1e-9, Math.min(SAME, Math.max(...boxSize(box)) * SAME_SHARE));
}

/** The triangle corners around every point, one run after the other: those of point `i` begin at `start[i]`. */
function cornersAround(points: Uint32Array): { start: Uint32Array; around: Uint32Array } {
  let count = 1;
  for (const point of points) if (point >= count) count = point + 1;
  const start = new Uint32Array(count + 1);
  for (const point of points) start[point + 1]!++;
  for (let i = 0; i < count; i++) start[i + 1]! += start[i]!;
  const next = start.slice();
  const around = new Uint32Array(points.length);
  for (let corner = 0; corner < points.length; corner++) around[next[points[corner]!]!++] = corner;
  return { start, around };
}
