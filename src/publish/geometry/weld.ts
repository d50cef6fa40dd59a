import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Piece } from './element-geometry';
import type { Surface } from '../pictures/pictures';

/** How a run of triangles is drawn; triangles of one look make one primitive. */
export interface Look {
  mode: 'solid' | 'cut-out' | 'see-through';
  /** Whether its vertices have normals, sent or derived; without, every face is flat. */
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
  /** Unit normals in steps of 1/127, three a vertex, Y up; null where it is flat, or where the viewer derives them. */
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

/** Words of a row that all vertices have: position, element, colour, normal. */
const PLAIN_WIDTH = 5;
/** Those, and two for the place in a picture. */
const PICTURED_WIDTH = 7;
/** Places in pictures are rounded to this share of the picture: half a pixel of the largest that are kept. */
const UV_STEPS = 4096;

/**
 * Merges pieces into one indexed mesh for each look: positions snapped to the grid, vertices that agree in everything
 * welded, triangles without area dropped. The frame turns from Z up to glTF's Y up: (x, y, z) -> (x, z, -y).
 */
export function weldPieces(pieces: TilePiece[], surfaces: Surface[], grid: Grid, maxStep: number): TileMesh[] {
  const runs = new Map<string, Run>();
  for (const piece of pieces) {
    for (const [look, faces] of looksOf(piece, surfaces[piece.material]!)) {
      const key = `${look.mode}/${look.texture}/${look.curved}/${look.isCut}`;
      let run = runs.get(key);
      if (!run) runs.set(key, (run = { look, parts: [] }));
      run.parts.push({ piece, faces });
    }
  }
  return [...runs.values()].flatMap((run) => unpack(rowsOf(run, surfaces, grid, maxStep), run.look) ?? []);
}

/** Pieces of one look, each with the faces that have it; null for all of them. */
interface Run {
  look: Look;
  parts: { piece: Piece; faces: Uint32Array | null }[];
}

/** The faces of a piece by their look: at most one flat and one curved. With a picture, all of them have normals. */
function looksOf(piece: TilePiece, material: Surface): [Look, Uint32Array | null][] {
  const isCut = piece.isCut ?? false;
  const texture = piece.uvs && material.texture !== undefined ? material.texture : -1;
  const mode = !isOpaque(piece, material) ? 'see-through' : material.cutOut && texture >= 0 ? 'cut-out' : 'solid';
  if (texture >= 0) return [[{ mode, texture, isCut, curved: true }, null]];
  if (!piece.normals) return [[{ mode, texture, isCut, curved: false }, null]];
  const count = Math.floor(piece.indices.length / 3);
  const flat: number[] = [];
  const curved: number[] = [];
  for (let face = 0; face < count; face++) (isCurved(piece, face) ? curved : flat).push(face);
  if (flat.length === 0 || curved.length === 0) return [[{ mode, texture, isCut, curved: flat.length === 0 }, null]];
  return [
    [{ mode, texture, isCut, curved: false }, Uint32Array.from(flat)],
    [{ mode, texture, isCut, curved: true }, Uint32Array.from(curved)],
  ];
}

function isCurved({ normals, indices }: Piece, face: number): boolean {
  for (let corner = 0; corner < 3; corner++) {
    const at = indices[face * 3 + corner]! * 3;
    if (normals![at] === 0 && normals![at + 1] === 0 && normals![at + 2] === 0) return false;
  }
  return true;
}

/** Rows of position, element, colour, normal and place in the picture, and the triangles over them. */
interface Rows {
  words: Int32Array;
  /** Words of a row. */
  width: number;
  indices: Uint32Array;
}

function rowsOf({ look, parts }: Run, surfaces: Surface[], grid: Grid, maxStep: number): Rows {
  let corners = 0;
  for (const { piece, faces } of parts) corners += faces ? faces.length * 3 : piece.indices.length;
  const writer = new RowWriter(look, corners, grid, maxStep);
  for (const { piece, faces } of parts) writer.add(piece, faces, surfaces[piece.material]!);
  return writer.done();
}

/** Writes one row for every vertex that faces of the look use. */
class RowWriter {
  private readonly words: Int32Array;
  private readonly width: number;
  private readonly indices: Uint32Array;
  private rows = 0;
  private corners = 0;
  /** By vertex of the piece at hand: its row. What other pieces left there is below the first row of this one. */
  private rowOf = new Int32Array(256).fill(-1);

  /** @param corners of all pieces that will come: there are no more rows than these */
  constructor(
    private readonly look: Look,
    corners: number,
    private readonly grid: Grid,
    private readonly maxStep: number,
  ) {
    this.width = look.texture >= 0 ? PICTURED_WIDTH : PLAIN_WIDTH;
    this.words = new Int32Array(corners * this.width);
    this.indices = new Uint32Array(corners);
  }

  /** @param faces null for all */
  add(piece: Piece, faces: Uint32Array | null, material: Surface): void {
    const { indices, normals, uvs } = piece;
    const { look } = this;
    const color = packColour(look.texture >= 0 ? material.color : material.plain);
    // A picture repeats, so whole numbers may be taken away: small numbers round better.
    const first = indices[faces ? faces[0]! * 3 : 0]! * 2;
    const [u0, v0] = uvs ? [Math.floor(uvs[first]!), Math.floor(uvs[first + 1]!)] : [0, 0];
    const vertices = piece.positions.length / 3;
    if (vertices > this.rowOf.length) this.rowOf = new Int32Array(vertices * 2).fill(-1);
    const { rowOf, rows: firstRow } = this;
    const count = faces ? faces.length : Math.floor(indices.length / 3);
    for (let i = 0; i < count; i++) {
      const face = faces ? faces[i]! : i;
      // Where a face of a curved look has no normals of its own, its corners are its alone.
      const own = look.curved && !(normals && isCurved(piece, face)) ? faceNormal(piece, face) : null;
      for (let corner = face * 3; corner < face * 3 + 3; corner++) {
        const vertex = indices[corner]!;
        let row = own === null ? rowOf[vertex]! : -1;
        if (row < firstRow) {
          row = this.write(piece, vertex, color, own, u0, v0);
          if (own === null) rowOf[vertex] = row;
        }
        this.indices[this.corners++] = row;
      }
    }
  }

  done(): Rows {
    const { words, width, rows, indices, corners } = this;
    return { words: words.subarray(0, rows * width), width, indices: indices.subarray(0, corners) };
  }

  private write(piece: Piece, vertex: number, color: number, own: number | null, u0: number, v0: number): number {
    const { positions: p, element, colors, normals, uvs } = piece;
    const { words, look, width, grid } = this;
    const at = vertex * 3;
    const to = this.rows * width;
    words[to] = this.snap(p[at]! - grid.origin[0]) | (this.snap(p[at + 2]! - grid.origin[2]) << 16);
    // -y, measured from the grid's far side so that all steps are positive.
    words[to + 1] = this.maxStep - this.snap(p[at + 1]! - grid.origin[1]);
    words[to + 2] = element;
    words[to + 3] = colors ? packBytes(colors, vertex * 4) : color;
    if (look.curved) words[to + 4] = own ?? packNormal(normals![at]!, normals![at + 2]!, -normals![at + 1]!);
    if (width === PICTURED_WIDTH) {
      words[to + 5] = Math.round((uvs![vertex * 2]! - u0) * UV_STEPS);
      words[to + 6] = Math.round((uvs![vertex * 2 + 1]! - v0) * UV_STEPS);
    }
    return this.rows++;
  }

  private snap(metres: number): number {
    const step = Math.round(metres / this.grid.step);
    return step < 0 ? 0 : step > this.maxStep ? this.maxStep : step;
  }
}

function unpack({ words, width, indices: rows }: Rows, look: Look): TileMesh | null {
  const { of, first } = uniqueRows(words, width);
  const count = first.length;
  const positions = new Uint16Array(count * 3);
  const features = new Uint32Array(count);
  const colors = new Uint16Array(count * 4);
  const normals = look.curved ? new Int8Array(count * 3) : null;
  const uvs = look.texture >= 0 ? new Float32Array(count * 2) : null;
  const places = new Int32Array(count * 2);
  for (let i = 0; i < count; i++) {
    const from = first[i]! * width;
    const xz = words[from]!;
    const y = words[from + 1]!;
    const paint = words[from + 3]!;
    const normal = words[from + 4]!;
    positions[i * 3] = xz & 65535;
    positions[i * 3 + 1] = xz >>> 16;
    positions[i * 3 + 2] = y;
    places[i * 2] = xz;
    places[i * 2 + 1] = y;
    features[i] = words[from + 2]!;
    for (let channel = 0; channel < 4; channel++) {
      const value = (paint >>> (channel * 8)) & 255;
      colors[i * 4 + channel] = channel === 3 ? value * 257 : LINEAR[value]!;
    }
    if (normals) for (let axis = 0; axis < 3; axis++) normals[i * 3 + axis] = (normal << (24 - axis * 8)) >> 24;
    if (uvs) for (let axis = 0; axis < 2; axis++) uvs[i * 2 + axis] = words[from + 5 + axis]! / UV_STEPS;
  }
  const same = (a: number, b: number) => places[a * 2] === places[b * 2] && places[a * 2 + 1] === places[b * 2 + 1];
  const indices = new Uint32Array(rows.length);
  let length = 0;
  for (let i = 0; i + 2 < rows.length; i += 3) {
    const a = of[rows[i]!]!;
    const b = of[rows[i + 1]!]!;
    const c = of[rows[i + 2]!]!;
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
