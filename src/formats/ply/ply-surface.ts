import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Geometry } from '../building-model';
import { nearPositions, type NearPositions } from '../near-positions';
import { NumberList } from '../number-list';
import { triangulatePolygon } from '../triangulate-polygon';
import type { PlyElement, PlyHeader, PlyNumber } from './ply-header';
import type { PlyValues } from './ply-values';

/** The largest value of a kind of number: what full colour is written as. */
const FULL: Partial<Record<PlyNumber, number>> = { uint8: 255, int8: 127, uint16: 65535, uint32: 4294967295 };
/** Names of properties as they are in use. */
const COLOURS = [
  /^(diffuse_)?(red|r)$/,
  /^(diffuse_)?(green|g)$/,
  /^(diffuse_)?(blue|b)$/,
  /^(diffuse_)?(alpha|a|opacity)$/,
];
const PICTURE = [/^(s|u|texture_u|texture_s|tx)$/, /^(t|v|texture_v|texture_t|ty)$/];
const CORNERS = /^vertex_ind(ices|ex)$/;

/** Collects the surface of a PLY file: polygons of any number of corners and strips, with colours and places in a picture. */
export class PlySurface {
  /** Faces that name vertices that are not there, or whose numbers make no sense. */
  bad = 0;
  /** Whether vertices or corners have places in a picture. */
  isPictured = false;
  private positions = new Float64Array(0);
  private normals: Float32Array | null = null;
  private colors: Uint8Array | null = null;
  private uvs: Float32Array | null = null;
  private readonly indices = new NumberList(new Int32Array(1024));
  /** Of every corner, where faces have their own. */
  private readonly cornerUvs = new NumberList(new Float32Array(0));
  private readonly cornerColors = new NumberList(new Int32Array(0));

  /** @throws RangeError if the values end before the rows do */
  read({ elements }: PlyHeader, values: PlyValues): void {
    for (const element of elements) {
      if (element.name === 'vertex') this.vertices(element, values);
      else if (element.name === 'face') this.faces(element, values);
      else if (element.name === 'tristrips') this.strips(element, values);
      else if (element.properties.length > 0) for (let row = 0; row < element.count; row++) readRow(element, values);
    }
  }

  private vertices(element: PlyElement, values: PlyValues): void {
    const { count, properties } = element;
    const at = (...names: RegExp[]) =>
      names.map((name) => properties.findIndex((one) => name.test(one.name) && !one.listCount));
    const isThere = (columns: number[]) => columns.every((column) => column >= 0);
    const places = at(/^x$/, /^y$/, /^z$/);
    const normal = at(/^nx$/, /^ny$/, /^nz$/);
    const colour = paintOf(element);
    const picture = at(...PICTURE);
    if (!isThere(places)) throw new RangeError('vertices have no places');
    // Rows are as long as bytes can tell: what a header announces may not be there.
    const positions = new NumberList(new Float64Array(1024));
    const normals = isThere(normal) ? new NumberList(new Float32Array(1024)) : null;
    const colors = colour ? new NumberList(new Int32Array(1024)) : null;
    const uvs = isThere(picture) ? new NumberList(new Float32Array(1024)) : null;
    for (let row = 0; row < count; row++) {
      const { scalars } = readRow(element, values);
      positions.push3(scalars[places[0]!]!, scalars[places[1]!]!, scalars[places[2]!]!);
      normals?.push3(scalars[normal[0]!]!, scalars[normal[1]!]!, scalars[normal[2]!]!);
      if (colour) colors?.push(...colour(scalars));
      for (let i = 0; uvs && i < 2; i++) uvs.push(scalars[picture[i]!]!);
    }
    this.positions = positions.values;
    this.normals = normals && normals.values;
    this.colors = colors && Uint8Array.from(colors.values);
    this.uvs = uvs && uvs.values;
    this.isPictured ||= uvs !== null;
  }

  private faces(element: PlyElement, values: PlyValues): void {
    const { properties } = element;
    const corners = cornersOf(element);
    const picture = properties.findIndex((one) => one.name === 'texcoord' && one.listCount);
    const colour = paintOf(element);
    this.isPictured ||= picture >= 0;
    for (let row = 0; row < element.count; row++) {
      const { scalars, lists } = readRow(element, values);
      const polygon = lists[corners]!;
      if (polygon.length < 3 || !polygon.every((vertex) => this.isThere(vertex))) {
        this.bad++;
        continue;
      }
      const [r, g, b, a] = colour?.(scalars) ?? NO_PAINT;
      const uvs = picture < 0 ? [] : lists[picture]!;
      for (const corner of polygon.length === 3 ? TRIANGLE : triangulatePolygon(this.pointsOf(polygon))) {
        this.indices.push(polygon[corner]!);
        if (picture >= 0) this.cornerUvs.push(uvs[corner * 2] ?? NaN, uvs[corner * 2 + 1] ?? NaN);
        if (colour) this.cornerColors.push((r << 24) | (g << 16) | (b << 8) | a);
      }
    }
  }

  /** Triangle strips; a negative number begins a new one, and every other triangle turns round. */
  private strips(element: PlyElement, values: PlyValues): void {
    const corners = cornersOf(element);
    for (let row = 0; row < element.count; row++) {
      const strip = readRow(element, values).lists[corners]!;
      let begin = 0;
      for (let i = 0; i < strip.length; i++) {
        if (strip[i]! < 0) begin = i + 1;
        if (i < begin + 2) continue;
        const [a, b, c] = (i - begin) % 2 === 0 ? [i - 2, i - 1, i] : [i - 1, i - 2, i];
        const triangle = [strip[a]!, strip[b]!, strip[c]!] as const;
        // A corner that comes twice only leads the strip elsewhere.
        if (triangle[0] === triangle[1] || triangle[1] === triangle[2] || triangle[0] === triangle[2]) continue;
        if (triangle.every((vertex) => this.isThere(vertex))) this.indices.push3(...triangle);
        else this.bad++;
      }
    }
  }

  /** What was read, with only the vertices that are used; null if there is no triangle. */
  geometry(): { geometry: Geometry; from: NearPositions['from'] } | null {
    const corners = this.indices.values;
    if (corners.length === 0) return null;
    const ownUvs = this.cornerUvs.length === corners.length * 2 ? this.cornerUvs.values : null;
    const ownColors = this.cornerColors.length === corners.length ? this.cornerColors.values : null;
    const width = 1 + (ownUvs ? 2 : 0) + (ownColors ? 1 : 0);
    let words = corners;
    if (width > 1) {
      words = new Int32Array(corners.length * width);
      const uvWords = ownUvs && new Int32Array(Float32Array.from(ownUvs).buffer);
      for (let i = 0; i < corners.length; i++) {
        words[i * width] = corners[i]!;
        if (uvWords) words.set(uvWords.subarray(i * 2, i * 2 + 2), i * width + 1);
        if (ownColors) words[i * width + width - 1] = ownColors[i]!;
      }
    }
    const { of, first } = uniqueRows(words, width);
    const count = first.length;
    const take = <T extends Float64Array | Float32Array | Uint8Array>(all: T, size: number): T => {
      const taken = new (all.constructor as new (length: number) => T)(count * size);
      for (let i = 0; i < count; i++)
        for (let part = 0; part < size; part++) taken[i * size + part] = all[corners[first[i]!]! * size + part]!;
      return taken;
    };
    const { positions, from } = nearPositions(take(this.positions, 3));
    const geometry: Geometry = { positions, indices: of };
    const uvs = ownUvs ? pairs(ownUvs, first) : this.uvs && take(this.uvs, 2);
    // The format counts a picture's rows from below.
    if (uvs?.every(Number.isFinite)) geometry.uvs = uvs.map((value, i) => (i % 2 === 0 ? value : 1 - value));
    if (ownColors) geometry.colors = bytesOf(ownColors, first);
    else if (this.colors) geometry.colors = take(this.colors, 4);
    const normals = this.normals && take(this.normals, 3);
    if (normals?.every(Number.isFinite)) geometry.normals = normals;
    return { geometry, from };
  }

  private isThere(vertex: number): boolean {
    const p = this.positions;
    return (
      Number.isInteger(vertex) &&
      vertex >= 0 &&
      vertex * 3 < p.length &&
      Number.isFinite(p[vertex * 3]! + p[vertex * 3 + 1]! + p[vertex * 3 + 2]!)
    );
  }

  private pointsOf(polygon: number[]): number[] {
    return polygon.flatMap((vertex) => [...this.positions.subarray(vertex * 3, vertex * 3 + 3)]);
  }
}

const TRIANGLE = [0, 1, 2];

interface Row {
  /** By the number of the property; lists leave a gap. */
  scalars: number[];
  lists: number[][];
}

/** One row of a file. */
function readRow({ properties }: PlyElement, values: PlyValues): Row {
  const row: Row = { scalars: [], lists: [] };
  for (let i = 0; i < properties.length; i++) {
    const { kind, listCount } = properties[i]!;
    if (listCount === undefined) {
      row.scalars[i] = values.next(kind);
      continue;
    }
    const count = values.next(listCount);
    if (!(count >= 0)) throw new RangeError('a list has no length');
    const list: number[] = [];
    for (let item = 0; item < count; item++) list.push(values.next(kind));
    row.lists[i] = list;
  }
  values.endRow();
  return row;
}

/** Number of the property that names vertices. @throws RangeError if none does */
function cornersOf({ name, properties }: PlyElement): number {
  const corners = properties.findIndex((one) => CORNERS.test(one.name) && one.listCount);
  if (corners < 0) throw new RangeError(`${name} names no vertices`);
  return corners;
}

type Rgba = [number, number, number, number];
const NO_PAINT: Rgba = [0, 0, 0, 0];

/** Tells the colour of a row, each 0..255; null where rows have none. */
function paintOf({ properties }: PlyElement): ((scalars: number[]) => Rgba) | null {
  const columns = COLOURS.map((name) => properties.findIndex((one) => name.test(one.name) && !one.listCount));
  if (!columns.slice(0, 3).every((column) => column >= 0)) return null;
  const full = columns.map((column) => FULL[properties[column]?.kind ?? 'float32'] ?? 1);
  return (scalars) => columns.map((column, i) => byteOf(scalars[column] ?? full[i]!, full[i]!)) as Rgba;
}

function byteOf(value: number, full: number): number {
  return Math.round((Math.min(full, Math.max(0, value || 0)) / full) * 255);
}

function pairs(all: Float32Array, rows: Uint32Array): Float32Array {
  const taken = new Float32Array(rows.length * 2);
  rows.forEach((row, i) => taken.set(all.subarray(row * 2, row * 2 + 2), i * 2));
  return taken;
}

function bytesOf(colors: Int32Array, rows: Uint32Array): Uint8Array {
  const taken = new Uint8Array(rows.length * 4);
  rows.forEach((row, i) => {
    const rgba = colors[row]!;
    taken.set([(rgba >>> 24) & 255, (rgba >>> 16) & 255, (rgba >>> 8) & 255, rgba & 255], i * 4);
  });
  return taken;
}
