import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Piece } from './element-geometry';
import type { Surface } from './pictures';

/** How a run of triangles is drawn; triangles of one look make one primitive. */
export interface Look {
  mode: 'solid' | 'cut-out' | 'see-through';
  /** Whether its vertices have normals; without, every face is flat. */
  curved: boolean;
  /** Index of its picture, or -1. */
  texture: number;
  /** Whether its rims are where a surface was cut into tiles, and not its ends. */
  isCut: boolean;
}

/** A piece, or what was cut from one. */
export type TilePiece = Piece & { isCut?: boolean };

/** Merged, quantised triangles of one tile and one look. */
export interface TileMesh extends Look {
  /** uint16 steps, three a vertex, in glTF's Y-up frame. */
  positions: Uint16Array;
  /** Element index a vertex. */
  features: Uint32Array;
  /** Linear RGBA as uint16 a vertex. */
  colors: Uint16Array;
  /** Unit normals in steps of 1/127, three a vertex, Y up; null where it is flat. */
  normals: Int8Array | null;
  /** Places in the picture, two a vertex; null where there is none. */
  uvs: Float32Array | null;
  indices: Uint32Array;
}

export interface Grid {
  /** Lower corner of the tile in the revision's frame, metres, Z up. */
  origin: [number, number, number];
  /** Metres a step, the same in all directions so that distances stay true. */
  step: number;
}

const WIDTH = 7;
/** Places in pictures are rounded to this share of the picture: half a pixel of the largest that are kept. */
const UV_STEPS = 4096;

/**
 * Merges pieces into one indexed mesh for each look: positions snapped to the grid, vertices that agree in everything
 * welded, triangles without area dropped. The frame turns from Z up to glTF's Y up: (x, y, z) -> (x, z, -y).
 */
export function weldPieces(pieces: TilePiece[], surfaces: Surface[], grid: Grid, maxStep: number): TileMesh[] {
  const runs = new Map<string, { look: Look; parts: { piece: Piece; faces: Uint32Array }[]; faces: number }>();
  for (const piece of pieces) {
    for (const [look, faces] of looksOf(piece, surfaces[piece.material]!)) {
      const key = `${look.mode}/${look.texture}/${look.curved}/${look.isCut}`;
      const run = runs.get(key) ?? { look, parts: [], faces: 0 };
      run.parts.push({ piece, faces });
      run.faces += faces.length;
      runs.set(key, run);
    }
  }
  return [...runs.values()].flatMap(({ look, parts, faces }) => {
    const words = new Int32Array(faces * 3 * WIDTH);
    let corner = 0;
    for (const part of parts)
      corner = writeCorners(words, corner, part.piece, part.faces, surfaces[part.piece.material]!, look, grid, maxStep);
    return unpack(words, look) ?? [];
  });
}

/** The faces of a piece by their look: at most one flat and one curved. With a picture, all of them have normals. */
function looksOf(piece: TilePiece, material: Surface): [Look, Uint32Array][] {
  const isCut = piece.isCut ?? false;
  const texture = piece.uvs && material.texture !== undefined ? material.texture : -1;
  const mode = !isOpaque(piece, material) ? 'see-through' : material.cutOut && texture >= 0 ? 'cut-out' : 'solid';
  const count = Math.floor(piece.indices.length / 3);
  const all = Uint32Array.from({ length: count }, (_, face) => face);
  if (texture >= 0) return [[{ mode, texture, isCut, curved: true }, all]];
  const curved = piece.normals ? all.filter((face) => isCurved(piece, face)) : new Uint32Array();
  const flat = curved.length === 0 ? all : all.filter((face) => !isCurved(piece, face));
  return [
    [{ mode, texture, isCut, curved: false }, flat] as [Look, Uint32Array],
    [{ mode, texture, isCut, curved: true }, curved] as [Look, Uint32Array],
  ].filter(([, faces]) => faces.length > 0);
}

function isCurved({ normals, indices }: Piece, face: number): boolean {
  for (let corner = 0; corner < 3; corner++) {
    const at = indices[face * 3 + corner]! * 3;
    if (normals![at] === 0 && normals![at + 1] === 0 && normals![at + 2] === 0) return false;
  }
  return true;
}

/** Writes the corners of faces as rows: position, element, colour, normal, place in the picture. */
function writeCorners(
  words: Int32Array,
  corner: number,
  piece: Piece,
  faces: Uint32Array,
  material: Surface,
  look: Look,
  grid: Grid,
  maxStep: number,
): number {
  const { positions: p, indices, colors, normals, uvs } = piece;
  const [ox, oy, oz] = grid.origin;
  const snap = (value: number) => Math.min(maxStep, Math.max(0, Math.round(value / grid.step)));
  const all = packColour(look.texture >= 0 ? material.color : material.plain);
  // A picture repeats, so whole numbers may be taken away: small numbers round better.
  const [u0, v0] = [0, 1].map((axis) => (uvs ? Math.floor(uvs[indices[faces[0]! * 3]! * 2 + axis]!) : 0));
  for (const face of faces) {
    const own = look.curved && normals && isCurved(piece, face) ? null : look.curved ? faceNormal(piece, face) : 0;
    for (let c = 0; c < 3; c++, corner++) {
      const vertex = indices[face * 3 + c]!;
      const at = vertex * 3;
      const to = corner * WIDTH;
      words[to] = snap(p[at]! - ox) | (snap(p[at + 2]! - oz) << 16);
      // -y, measured from the grid's far side so that all steps are positive.
      words[to + 1] = maxStep - snap(p[at + 1]! - oy);
      words[to + 2] = piece.element;
      words[to + 3] = colors ? packBytes(colors, vertex * 4) : all;
      words[to + 4] = own ?? packNormal(normals![at]!, normals![at + 2]!, -normals![at + 1]!);
      if (!uvs || look.texture < 0) continue;
      words[to + 5] = Math.round((uvs[vertex * 2]! - u0!) * UV_STEPS);
      words[to + 6] = Math.round((uvs[vertex * 2 + 1]! - v0!) * UV_STEPS);
    }
  }
  return corner;
}

function unpack(words: Int32Array, look: Look): TileMesh | null {
  const { of, first } = uniqueRows(words, WIDTH);
  const count = first.length;
  const positions = new Uint16Array(count * 3);
  const features = new Uint32Array(count);
  const colors = new Uint16Array(count * 4);
  const normals = look.curved ? new Int8Array(count * 3) : null;
  const uvs = look.texture >= 0 ? new Float32Array(count * 2) : null;
  const places = new Int32Array(count * 2);
  for (let i = 0; i < count; i++) {
    const from = first[i]! * WIDTH;
    const [xz, y, element, paint, normal] = words.subarray(from, from + 5) as unknown as number[];
    positions[i * 3] = xz! & 65535;
    positions[i * 3 + 1] = xz! >>> 16;
    positions[i * 3 + 2] = y!;
    places[i * 2] = xz!;
    places[i * 2 + 1] = y!;
    features[i] = element!;
    for (let channel = 0; channel < 4; channel++) {
      const value = (paint! >>> (channel * 8)) & 255;
      colors[i * 4 + channel] = channel === 3 ? value * 257 : LINEAR[value]!;
    }
    if (normals) for (let axis = 0; axis < 3; axis++) normals[i * 3 + axis] = (normal! << (24 - axis * 8)) >> 24;
    if (uvs) for (let axis = 0; axis < 2; axis++) uvs[i * 2 + axis] = words[from + 5 + axis]! / UV_STEPS;
  }
  const same = (a: number, b: number) => places[a * 2] === places[b * 2] && places[a * 2 + 1] === places[b * 2 + 1];
  const indices = new Uint32Array(of.length);
  let length = 0;
  for (let i = 0; i < of.length; i += 3) {
    const [a, b, c] = [of[i]!, of[i + 1]!, of[i + 2]!];
    if (same(a, b) || same(b, c) || same(a, c)) continue;
    indices[length++] = a;
    indices[length++] = b;
    indices[length++] = c;
  }
  return length === 0
    ? null
    : { ...look, positions, features, colors, normals, uvs, indices: indices.slice(0, length) };
}

function isOpaque({ colors }: Piece, { color }: Surface): boolean {
  if (!colors) return color[3] >= 0.999;
  for (let alpha = 3; alpha < colors.length; alpha += 4) if (colors[alpha]! < 255) return false;
  return true;
}

/** A face's own normal, packed. */
function faceNormal({ positions: p, indices }: Piece, face: number): number {
  const [a, b, c] = [indices[face * 3]! * 3, indices[face * 3 + 1]! * 3, indices[face * 3 + 2]! * 3];
  const [ux, uy, uz] = [p[b]! - p[a]!, p[b + 1]! - p[a + 1]!, p[b + 2]! - p[a + 2]!];
  const [vx, vy, vz] = [p[c]! - p[a]!, p[c + 1]! - p[a + 1]!, p[c + 2]! - p[a + 2]!];
  const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const scale = 127 / (Math.hypot(x, y, z) || 1);
  return packNormal(Math.round(x * scale), Math.round(z * scale), Math.round(-y * scale));
}

/** Three signed bytes in one number, x lowest. */
function packNormal(x: number, y: number, z: number): number {
  return (x & 255) | ((y & 255) << 8) | ((z & 255) << 16);
}

/** A colour of parts 0..1 as four bytes in one number, red lowest. */
function packColour(color: Surface['color']): number {
  return packBytes(
    color.map((part) => Math.round(part * 255)),
    0,
  );
}

function packBytes(bytes: ArrayLike<number>, at: number): number {
  return bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24);
}

/** sRGB to linear transfer function, IEC 61966-2-1. */
function toLinear(srgb: number): number {
  return srgb <= 0.04045 ? srgb / 12.92 : ((srgb + 0.055) / 1.055) ** 2.4;
}

/** Linear values as uint16 of the 256 steps of sRGB. */
const LINEAR = Uint16Array.from({ length: 256 }, (_, step) => Math.round(toLinear(step / 255) * 65535));
