import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Geometry } from '../building-model';
import { nearPositions } from '../near-positions';

/** What one solid of an STL file holds: facets with corners of their own. */
export interface Facets {
  /** Empty where the file gives none. */
  name: string;
  /** Nine numbers a facet, as in the file. */
  positions: Float64Array | Float32Array;
  /** sRGB a facet, three numbers 0..255, where the file paints its facets. */
  colors?: Uint8Array;
}

/** Corners that agree become one. Normals and all else follow from the corners. */
export function joinFacets({ positions, colors }: Facets): { geometry: Geometry; from: [number, number, number] } {
  const near = nearPositions(positions);
  const corners = near.positions.length / 3;
  const places = new Int32Array(near.positions.buffer);
  let words = places;
  if (colors) {
    words = new Int32Array(corners * 4);
    for (let corner = 0; corner < corners; corner++) {
      const at = Math.floor(corner / 3) * 3;
      words.set(places.subarray(corner * 3, corner * 3 + 3), corner * 4);
      words[corner * 4 + 3] = (colors[at]! << 16) | (colors[at + 1]! << 8) | colors[at + 2]!;
    }
  }
  const { of, first } = uniqueRows(words, colors ? 4 : 3);
  const geometry: Geometry = { positions: new Float32Array(first.length * 3), indices: of };
  const painted = colors && new Uint8Array(first.length * 4).fill(255);
  first.forEach((corner, i) => {
    geometry.positions.set(near.positions.subarray(corner * 3, corner * 3 + 3), i * 3);
    const facet = Math.floor(corner / 3) * 3;
    painted?.set(colors!.subarray(facet, facet + 3), i * 4);
  });
  if (painted) geometry.colors = painted;
  return { geometry, from: near.from };
}
