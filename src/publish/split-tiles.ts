import { boxCentre, boxSize, emptyBox, expandByBox, expandByPoint, type Box3 } from '@/core/math/box3';
import type { Piece } from './element-geometry';

/** How much one tile may hold. */
export interface TileLimits {
  triangles: number;
  /** Metres along the longest side: together with 16-bit positions this bounds the rounding. */
  size: number;
}

/** A mesh of fewer triangles is not cut for its size alone: a ground of two triangles stays one piece. */
const WORTH_CUTTING = 256;

/**
 * Splits pieces into groups, each as compact as halving along the longest side makes it. Pieces with too many triangles
 * are first cut into parts by their triangles' centres. A piece that is larger than a tile may be is not
 * mixed with small ones, so that it does not cost them their precision.
 */
export function splitIntoTiles(pieces: Piece[], limits: TileLimits): Piece[][] {
  const parts = pieces.flatMap((piece) => splitPiece(piece, limits));
  const oversized = parts.filter((piece) => longestSide(piece.box) > limits.size);
  const fitting = parts.filter((piece) => longestSide(piece.box) <= limits.size);
  return [...divide(oversized, { ...limits, size: Infinity }), ...divide(fitting, limits)];
}

function divide(group: Piece[], limits: TileLimits): Piece[][] {
  if (group.length === 0) return [];
  const triangles = group.reduce((sum, piece) => sum + piece.indices.length / 3, 0);
  const box = emptyBox();
  for (const piece of group) expandByBox(box, piece.box);
  const fits = triangles <= limits.triangles && longestSide(box) <= limits.size;
  if (fits || group.length === 1) return [group];
  const centres = emptyBox();
  for (const piece of group) expandByPoint(centres, ...boxCentre(piece.box));
  const axis = longestAxis(centres);
  const sorted = [...group].sort((a, b) => a.box[axis]! + a.box[axis + 3]! - b.box[axis]! - b.box[axis + 3]!);
  const cut = triangles > limits.triangles ? halfOfTriangles(sorted, triangles) : halfOfWay(sorted, axis);
  return [...divide(sorted.slice(0, cut), limits), ...divide(sorted.slice(cut), limits)];
}

/** Where to cut so that both sides hold about as many triangles; at least one piece on each side. */
function halfOfTriangles(sorted: Piece[], triangles: number): number {
  let left = 0;
  let cut = 0;
  while (cut < sorted.length - 1 && left < triangles / 2) left += sorted[cut++]!.indices.length / 3;
  return Math.max(1, cut);
}

/** Where to cut so that both sides are about as long; at least one piece on each side. */
function halfOfWay(sorted: Piece[], axis: number): number {
  const centre = (piece: Piece) => piece.box[axis]! + piece.box[axis + 3]!;
  const middle = (centre(sorted[0]!) + centre(sorted.at(-1)!)) / 2;
  const cut = sorted.findIndex((piece) => centre(piece) > middle);
  return cut > 0 ? cut : Math.floor(sorted.length / 2);
}

function splitPiece(piece: Piece, limits: TileLimits): Piece[] {
  const count = piece.indices.length / 3;
  const tooLarge = longestSide(piece.box) > limits.size && count > WORTH_CUTTING;
  if (count <= limits.triangles && !tooLarge) return [piece];
  const axis = longestAxis(piece.box);
  const centre = (triangle: number) => {
    let sum = 0;
    for (let corner = 0; corner < 3; corner++)
      sum += piece.positions[piece.indices[triangle * 3 + corner]! * 3 + axis]!;
    return sum;
  };
  const order = Array.from({ length: count }, (_, triangle) => triangle).sort((a, b) => centre(a) - centre(b));
  const half = Math.ceil(count / 2);
  return [order.slice(0, half), order.slice(half)].flatMap((triangles) => splitPiece(subset(piece, triangles), limits));
}
function subset(piece: Piece, triangles: number[]): Piece {
  const indices = new Uint32Array(triangles.length * 3);
  const box = emptyBox();
  triangles.forEach((triangle, i) => {
    for (let corner = 0; corner < 3; corner++) {
      const vertex = piece.indices[triangle * 3 + corner]!;
      indices[i * 3 + corner] = vertex;
      expandByPoint(
        box,
        piece.positions[vertex * 3]!,
        piece.positions[vertex * 3 + 1]!,
        piece.positions[vertex * 3 + 2]!,
      );
    }
  });
  return { ...piece, indices, box };
}

function longestSide(box: Box3): number {
  return Math.max(...boxSize(box));
}

function longestAxis(box: Box3): 0 | 1 | 2 {
  const [x, y, z] = boxSize(box);
  return x >= y && x >= z ? 0 : y >= z ? 1 : 2;
}
