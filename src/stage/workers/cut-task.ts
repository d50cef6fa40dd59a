import earcut from 'earcut';
import type { Path } from '@/core/section/path';
import type { Plane } from '@/core/section/plane';
import { inSpace, planeFrame } from '@/core/section/plane';
import type { TriangleMesh } from '@/core/section/crossing';
import { cutElement, type ElementCut } from '@/core/section/section';
import { fetchSurfaces, type SurfacesOutput } from './surfaces-task';
import type { TaskAnswer } from './tasks';

export interface CutInput {
  /** Addresses of the finest tiles of one model that the plane touches. */
  tiles: string[];
  /** In the model's own frame. */
  plane: Plane;
  /** By row: 1 for elements that are cut. */
  rows: Uint8Array;
}

/** One element's cut. */
export interface RowCut extends ElementCut {
  row: number;
}

/** Where a plane cuts a model: the cuts themselves, and what is drawn of them, in the model's own frame. */
export interface CutOutput {
  cuts: RowCut[];
  /** The filled parts: three coordinates a vertex. */
  positions: Float32Array;
  /** Coordinates within the plane, two a vertex: for hatches. */
  places: Float32Array;
  /** Element a vertex. */
  elements: Uint32Array;
  indices: Uint32Array;
  /** Their borders and open lines, two ends of three coordinates each. */
  lines: Float32Array;
}

/** Tiles that this worker has read lately. */
const known = new Map<string, Promise<SurfacesOutput>>();
const MOST_TILES = 64;

/** Cuts the elements of one model by a plane, at full detail. */
export async function cutTiles({ tiles, plane, rows }: CutInput): Promise<TaskAnswer<CutOutput>> {
  const surfaces = await Promise.all(tiles.map(readTile));
  const { cuts, ...drawn } = cutSurfaces(surfaces, plane, rows);
  const packed = packCuts(cuts);
  const { positions, places, elements, indices, lines } = drawn;
  const arrays = [positions, places, elements, indices, lines].map((one) => one.buffer as ArrayBuffer);
  return { output: { cuts: packed.cuts, ...drawn }, transfer: [...arrays, packed.buffer] };
}

/** The same cuts with all their paths in one piece of memory: thousands of small ones would hold up the page that gets them. */
function packCuts(cuts: readonly RowCut[]): { cuts: RowCut[]; buffer: ArrayBuffer } {
  const paths = cuts.flatMap(({ regions, lines }) => [
    ...regions.flatMap(({ border, holes }) => [border, ...holes]),
    ...lines,
  ]);
  const all = new Float64Array(paths.reduce((sum, path) => sum + path.length, 0));
  let at = 0;
  const pack = (path: Path): Path => {
    all.set(path, at);
    at += path.length;
    return all.subarray(at - path.length, at);
  };
  const packed = cuts.map((cut) => ({
    ...cut,
    regions: cut.regions.map(({ border, holes }) => ({ border: pack(border), holes: holes.map(pack) })),
    lines: cut.lines.map(pack),
  }));
  return { cuts: packed, buffer: all.buffer };
}

function readTile(url: string): Promise<SurfacesOutput> {
  const there = known.get(url);
  known.delete(url);
  const tile = there ?? fetchSurfaces(url);
  tile.catch(() => known.delete(url)); // it may be had the next time; whoever asks now is told
  known.set(url, tile);
  for (const [oldest] of known) {
    if (known.size <= MOST_TILES) break;
    known.delete(oldest);
  }
  return tile;
}

/** Cuts surfaces by a plane, element by element, however they are spread over tiles. */
export function cutSurfaces(surfaces: readonly SurfacesOutput[], plane: Plane, rows: Uint8Array): CutOutput {
  const cuts = [...crossingTriangles(surfaces, plane, rows)].flatMap(([row, corners]): RowCut[] => {
    const cut = cutElement([soup(corners)], plane);
    return cut ? [{ row, ...cut }] : [];
  });
  return { cuts, ...drawCuts(cuts, plane) };
}

/** By element the corners of all its triangles that cross the plane: nothing else of them matters. */
function crossingTriangles(
  surfaces: readonly SurfacesOutput[],
  { normal: [nx, ny, nz], offset }: Plane,
  rows: Uint8Array,
): Map<number, number[]> {
  const crossing = new Map<number, number[]>();
  for (const { positions, indices, elements } of surfaces) {
    const sides = new Int8Array(positions.length / 3);
    for (let vertex = 0, at = 0; vertex < sides.length; vertex++, at += 3) {
      const height = positions[at]! * nx + positions[at + 1]! * ny + positions[at + 2]! * nz - offset;
      // What lies on the plane belongs to either side here; the section itself decides.
      sides[vertex] = Math.abs(height) < 1e-5 ? 0 : Math.sign(height);
    }
    for (let at = 0; at < indices.length; at += 3) {
      const [a, b, c] = [indices[at]!, indices[at + 1]!, indices[at + 2]!];
      const [least, most] = [Math.min(sides[a]!, sides[b]!, sides[c]!), Math.max(sides[a]!, sides[b]!, sides[c]!)];
      if (least > 0 || most < 0 || !rows[elements[a]!]) continue;
      const row = elements[a]!;
      let corners = crossing.get(row);
      if (!corners) crossing.set(row, (corners = []));
      for (const vertex of [a, b, c])
        corners.push(positions[vertex * 3]!, positions[vertex * 3 + 1]!, positions[vertex * 3 + 2]!);
    }
  }
  return crossing;
}

function soup(corners: readonly number[]): TriangleMesh {
  return {
    positions: Float64Array.from(corners),
    indices: Uint32Array.from({ length: corners.length / 3 }, (_, i) => i),
  };
}

function drawCuts(cuts: readonly RowCut[], plane: Plane): Omit<CutOutput, 'cuts'> {
  const frame = planeFrame(plane);
  const places: number[] = [];
  const elements: number[] = [];
  const indices: number[] = [];
  const ends: number[] = [];
  const addLine = (path: Float64Array, isLoop: boolean) => {
    for (let at = 0; at + 3 < path.length; at += 2) ends.push(path[at]!, path[at + 1]!, path[at + 2]!, path[at + 3]!);
    if (isLoop) ends.push(path[path.length - 2]!, path[path.length - 1]!, path[0]!, path[1]!);
  };
  for (const { row, regions, lines } of cuts) {
    for (const line of lines) addLine(line, false);
    for (const { border, holes } of regions) {
      const first = places.length / 2;
      const corners = [border, ...holes].flatMap((path) => [...path]);
      let at = border.length / 2;
      const starts = holes.map((hole) => {
        const start = at;
        at += hole.length / 2;
        return start;
      });
      for (const corner of earcut(corners, starts)) indices.push(first + corner);
      for (const value of corners) places.push(value);
      for (let i = 0; i < corners.length / 2; i++) elements.push(row);
      for (const path of [border, ...holes]) addLine(path, true);
    }
  }
  const spread = (flat: number[]) => {
    const out = new Float32Array((flat.length / 2) * 3);
    for (let i = 0; i < flat.length / 2; i++) out.set(inSpace(frame, [flat[2 * i]!, flat[2 * i + 1]!]), i * 3);
    return out;
  };
  return {
    positions: spread(places),
    places: Float32Array.from(places),
    elements: Uint32Array.from(elements),
    indices: Uint32Array.from(indices),
    lines: spread(ends),
  };
}
