import { PLASTER } from '../plaster';
import type { Facets } from './facets';
import { BYTES_A_FACET, facetCount, HEADER } from './is-stl';

/** Where a facet's corners begin, after its normal, and the two bytes that some programs use for its colour. */
const CORNERS = 12;
const COLOUR = 48;
/** The two bytes give five bits a colour, and the highest says whether they are meant. */
const FIVE_BITS = 31;

/** Whether all the facets are there that the header announces. What stands behind them says nothing. */
export function isWholeBinaryStl(bytes: Buffer): boolean {
  return bytes.length >= HEADER && bytes.length >= HEADER + facetCount(bytes) * BYTES_A_FACET;
}

/**
 * Facets of a whole binary STL. Facets with numbers that are none are left out; `bad` counts them. Colours are those of
 * the two ways in use: a header with “COLOR=” and facets that differ from it, or facets whose highest bit is set.
 */
export function readBinaryStl(bytes: Buffer): Facets & { bad: number } {
  const count = facetCount(bytes);
  const positions = new Float32Array(count * 9);
  const colors = new Uint8Array(count * 3);
  const common = commonColour(bytes);
  let [kept, painted] = [0, 0];
  for (let facet = 0, at = HEADER; facet < count; facet++, at += BYTES_A_FACET) {
    let sum = 0;
    for (let i = 0; i < 9; i++) sum += positions[kept * 9 + i] = bytes.readFloatLE(at + CORNERS + i * 4);
    if (!Number.isFinite(sum)) continue;
    const word = bytes.readUInt16LE(at + COLOUR);
    const parts = [word & FIVE_BITS, (word >> 5) & FIVE_BITS, (word >> 10) & FIVE_BITS].map((part) =>
      Math.round((part * 255) / FIVE_BITS),
    );
    const isOwn = word >> 15 === (common ? 0 : 1);
    // The two ways count red and blue from different ends.
    colors.set(isOwn ? (common ? parts : parts.reverse()) : (common ?? PLAIN), kept * 3);
    if (isOwn || common) painted++;
    kept++;
  }
  return {
    name: '',
    positions: positions.subarray(0, kept * 9),
    ...(painted > 0 && { colors: colors.subarray(0, kept * 3) }),
    bad: count - kept,
  };
}

/** sRGB of a facet without a colour beside others that have one. */
const PLAIN = PLASTER.slice(0, 3).map((part) => Math.round(part * 255));

function commonColour(bytes: Buffer): number[] | undefined {
  const at = bytes.subarray(0, HEADER - 4).indexOf('COLOR=', 0, 'latin1');
  return at >= 0 && at + 9 <= HEADER - 4 ? [...bytes.subarray(at + 6, at + 9)] : undefined;
}
