import { invertRigid, multiply, type Mat4 } from '@/core/math/mat4';
import { faceNormals, type FaceNormals } from '@/core/mesh/face-normals';
import { uniqueRows } from '@/core/mesh/unique-rows';
import { curvedNormals } from './curved-normals';
import type { Piece } from './element-geometry';
import type { Share } from './shares';

/** A corner's normal this near to its face's own is flat. */
const FLAT = Math.cos((2 * Math.PI) / 180);

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
  if (!smoothing) return piece.normals ? { ...piece, normals: null } : piece;
  const { vertices, indices, normals } = smoothing;
  return { ...piece, ...pickVertices(piece, vertices), indices, normals };
}

/** Null where all of a piece is flat. */
function smoothingOf(piece: Piece): Smoothing | null {
  const faces = faceNormals(piece.positions, piece.indices);
  const corners = piece.normals ? givenNormals(piece, faces) : curvedNormals(piece, faces);
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
  first.forEach((corner, i) => {
    for (let axis = 0; axis < 3; axis++) normals[i * 3 + axis] = corners[corner * 3 + axis]!;
  });
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
