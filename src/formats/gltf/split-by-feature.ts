import type { Geometry } from '../building-model';

/** What belongs to one feature. */
export interface FeatureGeometry {
  /** Null for what is of none. */
  feature: number | null;
  geometry: Geometry;
}

/**
 * Parts triangles by the features that they belong to, in the order in which these first appear. The feature of a
 * triangle is that of its first corner: by the rules of the format all three agree.
 *
 * @param featureOf a vertex; null where it belongs to none
 */
export function splitByFeature(geometry: Geometry, featureOf: (vertex: number) => number | null): FeatureGeometry[] {
  const corners = new Map<number | null, number[]>();
  const { indices } = geometry;
  for (let i = 0; i < indices.length; i += 3) {
    const feature = featureOf(indices[i]!);
    const known = corners.get(feature) ?? [];
    known.push(indices[i]!, indices[i + 1]!, indices[i + 2]!);
    corners.set(feature, known);
  }
  return [...corners].map(([feature, own]) => ({ feature, geometry: withVertices(geometry, own) }));
}

/** Some of a geometry's triangles, with the vertices that they use. */
function withVertices({ positions, colors, normals, uvs }: Geometry, corners: number[]): Geometry {
  const place = new Map<number, number>();
  const indices = Uint32Array.from(corners, (vertex) => {
    const known = place.get(vertex) ?? place.size;
    place.set(vertex, known);
    return known;
  });
  const pick = <T extends Float32Array | Uint8Array>(from: T, to: T): T => {
    const width = to.length / place.size;
    let at = 0;
    for (const vertex of place.keys()) for (let part = 0; part < width; part++) to[at++] = from[vertex * width + part]!;
    return to;
  };
  const count = place.size;
  return {
    positions: pick(positions, new Float32Array(count * 3)),
    indices,
    ...(colors && { colors: pick(colors, new Uint8Array(count * 4)) }),
    ...(normals && { normals: pick(normals, new Float32Array(count * 3)) }),
    ...(uvs && { uvs: pick(uvs, new Float32Array(count * 2)) }),
  };
}
