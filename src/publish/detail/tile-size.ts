import { boxDiagonal, type Box3 } from '@/core/math/box3';

/** Metres along a tile's longest side up to which 16-bit positions round by less than a millimetre. */
const MILLIMETRE = 127;
/** A thing of a hundred metres may be rounded by a centimetre: nobody sees it beside its size. */
const SHARE = 1e-4;

/**
 * How large a tile may be so that rounding harms nothing in it: by a millimetre at most, or where things are large
 * themselves, as the buildings of a town are, by a ten-thousandth of what one of middling size measures. A tile that were
 * kept small for what nobody sees would be one of hundreds, each next to empty.
 *
 * @param boxes of all pieces, in metres
 * @returns metres along the longest side; doubled once or more, so that neighbouring lattices still have steps in common
 */
export function tileSize(boxes: Box3[]): number {
  const sizes = Float64Array.from(boxes, boxDiagonal).sort();
  const middling = sizes[sizes.length >> 1] ?? 0;
  const doublings = Math.max(0, Math.floor(Math.log2((middling * SHARE) / 1e-3)));
  return MILLIMETRE * 2 ** (Number.isFinite(doublings) ? doublings : 0);
}
