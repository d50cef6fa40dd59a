import { boxSize, emptyBox, expandByBox, expandByPoint, longestSide, type Box3 } from '@/core/math/box3';
import type { Piece } from '../element-geometry';
import type { Share } from '../shares';

/** How much one tile may hold. */
export interface TileLimits {
  /** Of different shapes: what stands there many times counts once … */
  triangles: number;
  /** … as long as no more than so many triangles are drawn. */
  drawn: number;
  /** Metres along the longest side: together with 16-bit positions this bounds the rounding. */
  size: number;
}

/** A piece, or what was cut from one. */
export interface DetailPart extends Piece {
  /** Number of the whole piece. */
  source: number;
  /** Triangles of the whole piece that it stands for. */
  covers: number;
  /** Whether it is not all of the piece: part of its rim is then no rim of the surface. */
  isCut: boolean;
  /** What pieces of one shape have in common; null for one that is alone. */
  share: Share | null;
  /** Largest distance from the full surface, in metres, as measured step by step. */
  error: number;
}

/** A group of parts that fit into one tile, or the halves of a larger group. */
export type PartTree = { parts: DetailPart[] } | { halves: [PartTree, PartTree] };

/** A mesh of fewer triangles is not cut for its size alone: a ground of two triangles stays one piece. */
const WORTH_CUTTING = 256;

/**
 * Splits pieces into groups, each as compact as halving along the longest side makes it. Pieces with too many triangles
 * are first cut into parts by their triangles' centres. A piece that is larger than a tile may be is not mixed with
 * small ones, so that it does not cost them their precision.
 *
 * @param pieces at least one
 * @param shares which of them are of one shape
 */
export function splitPieces(pieces: Piece[], limits: TileLimits, shares: (Share | null)[] = []): PartTree {
  const oversized: DetailPart[] = [];
  const fitting: DetailPart[] = [];
  pieces.forEach((piece, source) => {
    // Written out: a model has hundreds of thousands, and copying what is not known beforehand takes ten times as long.
    const whole: DetailPart = {
      element: piece.element,
      material: piece.material,
      positions: piece.positions,
      indices: piece.indices,
      colors: piece.colors,
      normals: piece.normals,
      uvs: piece.uvs,
      box: piece.box,
      source,
      covers: piece.indices.length / 3,
      isCut: false,
      share: shares[source] ?? null,
      error: 0,
    };
    for (const part of fits(whole, limits) ? [whole] : splitPart(whole, limits))
      (longestSide(part.box) > limits.size ? oversized : fitting).push(part);
  });
  if (fitting.length === 0) return divide(oversized, { ...limits, size: Infinity });
  if (oversized.length === 0) return divide(fitting, limits);
  return { halves: [divide(oversized, { ...limits, size: Infinity }), divide(fitting, limits)] };
}

function divide(group: DetailPart[], limits: TileLimits): PartTree {
  const box = emptyBox();
  const centres = emptyBox();
  let triangles = 0;
  for (const part of group) {
    triangles += part.indices.length / 3;
    expandByBox(box, part.box);
    const [x0, y0, z0, x1, y1, z1] = part.box;
    expandByPoint(centres, (x0 + x1) / 2, (y0 + y1) / 2, (z0 + z1) / 2);
  }
  const light = isLight(group, triangles, limits);
  if ((light && longestSide(box) <= limits.size) || group.length === 1) return { parts: group };
  const axis = longestAxis(centres);
  const sorted = sortedAlong(group, axis);
  const cut = light ? halfOfWay(sorted, axis) : halfOfTriangles(sorted, triangles);
  return { halves: [divide(sorted.slice(0, cut), limits), divide(sorted.slice(cut), limits)] };
}

/** Parts in the order of their boxes' middles. The middles are worked out once: comparing is most of the work. */
function sortedAlong(group: DetailPart[], axis: number): DetailPart[] {
  const middles = Float64Array.from(group, ({ box }) => box[axis]! + box[axis + 3]!);
  const order = Uint32Array.from(group, (_, i) => i).sort((a, b) => middles[a]! - middles[b]! || a - b);
  return Array.from(order, (i) => group[i]!);
}

/** Whether a tile may hold a group. @param triangles as they are drawn */
function isLight(group: DetailPart[], triangles: number, limits: TileLimits): boolean {
  if (triangles <= limits.triangles) return true;
  if (triangles > limits.drawn) return false;
  const shapes = new Map<number, number>();
  let alone = 0;
  for (const { share, indices } of group) {
    if (share) shapes.set(share.shape, indices.length / 3);
    else alone += indices.length / 3;
  }
  return [...shapes.values()].reduce((sum, count) => sum + count, alone) <= limits.triangles;
}

/** Where to cut so that both sides hold about as many triangles; at least one part on each side. */
function halfOfTriangles(sorted: DetailPart[], triangles: number): number {
  let left = 0;
  let cut = 0;
  while (cut < sorted.length - 1 && left < triangles / 2) left += sorted[cut++]!.indices.length / 3;
  return Math.max(1, cut);
}

/** Where to cut so that both sides are about as long; at least one part on each side. */
function halfOfWay(sorted: DetailPart[], axis: number): number {
  const centre = (part: DetailPart) => part.box[axis]! + part.box[axis + 3]!;
  const middle = (centre(sorted[0]!) + centre(sorted.at(-1)!)) / 2;
  const cut = sorted.findIndex((part) => centre(part) > middle);
  return cut > 0 ? cut : Math.floor(sorted.length / 2);
}

/** Whether a part may go into a tile as it is. */
function fits({ box, indices }: DetailPart, limits: TileLimits): boolean {
  const count = indices.length / 3;
  return count <= limits.triangles && (count <= WORTH_CUTTING || longestSide(box) <= limits.size);
}

/** Cuts in linear time, at the mean of the triangles' centres, until every part fits. */
function splitPart(part: DetailPart, limits: TileLimits): DetailPart[] {
  if (fits(part, limits)) return [part];
  const count = part.indices.length / 3;
  const { positions: p, indices } = part;
  const axis = longestAxis(part.box);
  const centres = new Float64Array(count);
  let sum = 0;
  for (let face = 0, at = 0; face < count; face++, at += 3) {
    const centre = p[indices[at]! * 3 + axis]! + p[indices[at + 1]! * 3 + axis]! + p[indices[at + 2]! * 3 + axis]!;
    centres[face] = centre;
    sum += centre;
  }
  const mean = sum / count;
  const order = new Uint32Array(count);
  let left = 0;
  let right = count;
  for (let face = 0; face < count; face++) order[centres[face]! < mean ? left++ : --right] = face;
  const cut = left === 0 || left === count ? count >> 1 : left;
  return [order.subarray(0, cut), order.subarray(cut)].flatMap((faces) => splitPart(subset(part, faces), limits));
}

function subset(part: DetailPart, faces: Uint32Array): DetailPart {
  const { positions: p } = part;
  const indices = new Uint32Array(faces.length * 3);
  const box = emptyBox();
  for (let corner = 0; corner < indices.length; corner++) {
    const vertex = part.indices[faces[(corner / 3) | 0]! * 3 + (corner % 3)]!;
    indices[corner] = vertex;
    expandByPoint(box, p[vertex * 3]!, p[vertex * 3 + 1]!, p[vertex * 3 + 2]!);
  }
  return { ...part, indices, box, covers: faces.length, isCut: true, share: null };
}

function longestAxis(box: Box3): 0 | 1 | 2 {
  const [x, y, z] = boxSize(box);
  return x >= y && x >= z ? 0 : y >= z ? 1 : 2;
}
