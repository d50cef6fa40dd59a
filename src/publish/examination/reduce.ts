import { boxDiagonal } from '@/core/math/box3';
import { invertRigid, multiply, type Mat4 } from '@/core/math/mat4';
import { moved } from '../detail/coarsen';
import { simplify } from '../detail/simplify';
import type { DetailPart } from '../detail/split-pieces';
import type { Piece } from '../geometry/element-geometry';
import { findShares } from '../geometry/shares';
import { smoothAll } from '../geometry/smooth';

/** Of the diagonal of a piece, so far may its surface move when it is made simpler: of a chair not quite 5 mm … */
const SHARE = 1 / 250;
/** … and in metres, so that a measure taken there is still one of the thing. */
const AT_LEAST = 0.0002;
const AT_MOST = 0.002;

/** Pieces made simpler. */
export interface Reduced {
  /** One for each that was given, in the same order. */
  pieces: Piece[];
  /** Different shapes among them, and how many of those were tried. */
  shapes: number;
  tried: number;
  /** Triangles of what was tried, before and after. */
  before: number;
  after: number;
  /** Largest distance between a surface and what became of it, in metres, as measured. */
  error: number;
}

/**
 * Makes pieces simpler by as much as nobody sees: their surfaces move by a 250th of their size at most, and never by more
 * than two millimetres. Of pieces that are of one shape, one is worked out and the others are copies of it. What is
 * curved looks as curved as before.
 *
 * @param most triangles of shapes that are tried, the largest first; others stay as they are
 */
export async function reduce(given: Piece[], most = Infinity): Promise<Reduced> {
  const shares = findShares(given);
  const pieces = smoothAll(given, shares);
  const firsts = new Map<number | Piece, number>();
  pieces.forEach((piece, i) => {
    const shape = shares[i]?.shape ?? piece;
    if (!firsts.has(shape)) firsts.set(shape, i);
  });
  const reduced: Reduced = { pieces: [...given], shapes: firsts.size, tried: 0, before: 0, after: 0, error: 0 };
  const made = new Map<number | Piece, { part: DetailPart; back: Mat4 | null }>();
  const size = (i: number) => pieces[i]!.indices.length / 3;
  let room = most;
  for (const [shape, first] of [...firsts].sort(([, a], [, b]) => size(b) - size(a))) {
    if (size(first) > room) continue;
    room -= size(first);
    reduced.tried++;
    const share = shares[first] ?? null;
    const part = await simplify(wholePart(pieces[first]!, first), mayMove(pieces[first]!));
    made.set(shape, { part, back: share && invertRigid(share.motion) });
    reduced.error = Math.max(reduced.error, part.error);
  }
  pieces.forEach((piece, i) => {
    const known = made.get(shares[i]?.shape ?? piece);
    if (!known) return;
    const { part, back } = known;
    reduced.before += given[i]!.indices.length / 3;
    reduced.after += part.indices.length / 3;
    if (part.error === 0) return; // nothing could be taken away
    reduced.pieces[i] = likeIt(piece, part, back && multiply(shares[i]!.motion, back));
  });
  return reduced;
}

function mayMove({ box }: Piece): number {
  return Math.min(AT_MOST, Math.max(AT_LEAST, boxDiagonal(box) * SHARE));
}

function wholePart(piece: Piece, source: number): DetailPart {
  return { ...piece, source, covers: piece.indices.length / 3, isCut: false, share: null, error: 0 };
}

/** @param motion from where the part stands to where the piece does; null if it is the part's own */
function likeIt({ element, material }: Piece, part: DetailPart, motion: Mat4 | null): Piece {
  const { positions, indices, colors, normals, uvs, box } = motion ? moved(part, motion) : part;
  return { element, material, positions, indices, colors, normals, uvs, box };
}
