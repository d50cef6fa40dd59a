import { longestSide } from '@/core/math/box3';
import { invertRigid, multiply, type Mat4 } from '@/core/math/mat4';
import type { Share } from './shares';
import type { Grid, TilePiece } from './weld';

/** A piece of a tile, with the shape that it has in common with others. */
export type SharingPiece = TilePiece & { share?: Share | null };

/** One shape in one material, and where in the tile it stands. */
export interface Repeat {
  piece: TilePiece;
  places: Places;
}

/** Where a piece stands, in columns. */
export interface Places {
  /** What stands there. */
  elements: Uint32Array;
  /** Rigid motions of the piece in the revision's frame, sixteen numbers each. */
  motions: Float64Array;
}

/** What a triangle takes as sent, about, where it is written out: measured on buildings, 1.2 to 3 bytes. */
const BYTES_A_TRIANGLE = 1.3;
/** What a place takes, and what a shape takes beside its triangles: accessors and their names. */
const BYTES_A_PLACE = 26;
const BYTES_A_SHAPE = 260;

/** What a tile shows. */
export interface TileContent {
  /** Pieces that are written out where they stand. */
  single: SharingPiece[];
  repeats: Repeat[];
}

/**
 * Parts the pieces of a tile into those that are written out and those that stand there so often that one shape and its
 * places are lighter.
 */
export function findRepeats(pieces: SharingPiece[]): TileContent {
  const shapes = new Map<number, SharingPiece[]>();
  const single: SharingPiece[] = [];
  for (const piece of pieces) {
    if (!piece.share || piece.isCut) single.push(piece);
    else {
      const same = shapes.get(piece.share.shape);
      if (same) same.push(piece);
      else shapes.set(piece.share.shape, [piece]);
    }
  }
  const repeats: Repeat[] = [];
  for (const same of shapes.values()) {
    const triangles = same[0]!.indices.length / 3;
    const saved = (same.length - 1) * triangles * BYTES_A_TRIANGLE;
    if (saved < BYTES_A_SHAPE + same.length * BYTES_A_PLACE) {
      single.push(...same);
      continue;
    }
    // All materials show one and the same piece, so that they share its vertices; without its share, with which the
    // places of all pieces would go along to another thread.
    const [{ share, ...shape }] = same as [SharingPiece, ...SharingPiece[]];
    const back = invertRigid(share!.motion);
    for (const material of new Set(same.map((piece) => piece.material)))
      repeats.push({
        piece: { ...shape, material },
        places: placesOf(
          same.filter((piece) => piece.material === material),
          back,
        ),
      });
  }
  return { single, repeats };
}

/** @param back from where the piece stands that is shown to where its shape lies */
function placesOf(pieces: SharingPiece[], back: Mat4): Places {
  const motions = new Float64Array(pieces.length * 16);
  pieces.forEach(({ share }, i) => multiply(share!.motion, back, motions.subarray(i * 16, i * 16 + 16)));
  return { elements: Uint32Array.from(pieces, ({ element }) => element), motions };
}

/**
 * The lattice of a shape by itself: finer than the tile's, because turning it adds up its rounding. Its far corner in y
 * lies on the last step, so that the shape's steps in glTF's frame begin at zero.
 */
export function shapeGrid({ box }: TilePiece, tileStep: number, maxStep: number): Grid {
  const size = Math.max(longestSide(box), 1e-3);
  const step = Math.max(tileStep / 4, 2 ** Math.ceil(Math.log2(size / (maxStep - 1))));
  return { origin: [box[0], box[4] - maxStep * step, box[2]], step };
}
