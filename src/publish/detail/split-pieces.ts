import { ascendingRows } from '@/core/ascending-rows';
import { boxSize, emptyBox, expandByPoint, longestSide, type Box3 } from '@/core/math/box3';
import type { Piece } from '../geometry/element-geometry';
import type { Share } from '../geometry/shares';
import { withoutUnused } from '../geometry/used-vertices';

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
    for (const part of fits(whole, limits) ? [whole] : splitPart(whole, limits).map(withoutUnused))
      (longestSide(part.box) > limits.size ? oversized : fitting).push(part);
  });
  const all = { ...limits, size: Infinity };
  if (fitting.length === 0) return new Division(oversized, all).tree();
  if (oversized.length === 0) return new Division(fitting, limits).tree();
  return { halves: [new Division(oversized, all).tree(), new Division(fitting, limits).tree()] };
}

/** Divides parts into groups, by their numbers in the list; what is looked at again and again lies in columns. */
class Division {
  /** Six numbers a part. */
  private readonly boxes: Float64Array;
  private readonly triangles: Uint32Array;
  /** Number of the part's shape, or −1. */
  private readonly shapes: Int32Array;

  constructor(
    private readonly parts: DetailPart[],
    private readonly limits: TileLimits,
  ) {
    this.boxes = new Float64Array(parts.length * 6);
    parts.forEach(({ box }, i) => this.boxes.set(box, i * 6));
    this.triangles = Uint32Array.from(parts, ({ indices }) => indices.length / 3);
    this.shapes = Int32Array.from(parts, ({ share }) => share?.shape ?? -1);
  }

  /** All parts in groups. */
  tree(): PartTree {
    return this.divide(Uint32Array.from(this.parts, (_, i) => i));
  }

  private divide(group: Uint32Array): PartTree {
    const { boxes: b, limits } = this;
    const box = emptyBox();
    const centres = emptyBox();
    let triangles = 0;
    for (const part of group) {
      triangles += this.triangles[part]!;
      const at = part * 6;
      expandByPoint(box, b[at]!, b[at + 1]!, b[at + 2]!);
      expandByPoint(box, b[at + 3]!, b[at + 4]!, b[at + 5]!);
      expandByPoint(centres, this.middle(part, 0) / 2, this.middle(part, 1) / 2, this.middle(part, 2) / 2);
    }
    const light = this.isLight(group, triangles);
    if ((light && longestSide(box) <= limits.size) || group.length === 1)
      return { parts: Array.from(group, (part) => this.parts[part]!) };
    const axis = longestAxis(centres);
    const sorted = this.sortedAlong(group, axis, centres);
    const cut = light ? this.halfOfWay(sorted, axis) : this.halfOfTriangles(sorted, triangles);
    return { halves: [this.divide(sorted.slice(0, cut)), this.divide(sorted.slice(cut))] };
  }

  /** Twice the middle of a part's box along an axis. */
  private middle(part: number, axis: number): number {
    return this.boxes[part * 6 + axis]! + this.boxes[part * 6 + axis + 3]!;
  }

  /** Parts in the order of their boxes' middles, to a part in 2³² of the way. @param centres box of all middles */
  private sortedAlong(group: Uint32Array, axis: number, centres: Box3): Uint32Array {
    const low = centres[axis]! * 2;
    const scale = 0xffffffff / Math.max(Number.MIN_VALUE, centres[axis + 3]! * 2 - low);
    const keys = group.map((part) => Math.min(0xffffffff, (this.middle(part, axis) - low) * scale));
    return ascendingRows(keys).map((row) => group[row]!);
  }

  /** Whether a tile may hold a group. @param triangles as they are drawn */
  private isLight(group: Uint32Array, triangles: number): boolean {
    const { limits } = this;
    if (triangles <= limits.triangles) return true;
    if (triangles > limits.drawn) return false;
    const shapes = new Set<number>();
    let different = 0;
    for (const part of group) {
      const shape = this.shapes[part]!;
      if (shape >= 0 && shapes.has(shape)) continue;
      shapes.add(shape);
      different += this.triangles[part]!;
    }
    return different <= limits.triangles;
  }

  /** Where to cut so that both sides hold about as many triangles; at least one part on each side. */
  private halfOfTriangles(sorted: Uint32Array, triangles: number): number {
    let left = 0;
    let cut = 0;
    while (cut < sorted.length - 1 && left < triangles / 2) left += this.triangles[sorted[cut++]!]!;
    return Math.max(1, cut);
  }

  /** Where to cut so that both sides are about as long; at least one part on each side. */
  private halfOfWay(sorted: Uint32Array, axis: number): number {
    const half = (this.middle(sorted[0]!, axis) + this.middle(sorted.at(-1)!, axis)) / 2;
    const cut = sorted.findIndex((part) => this.middle(part, axis) > half);
    return cut > 0 ? cut : Math.floor(sorted.length / 2);
  }
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
