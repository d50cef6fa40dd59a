import { DisjointSets } from '@/core/mesh/disjoint-sets';
import { uniqueRows } from '@/core/mesh/unique-rows';
import { vertexNormals } from '@/core/mesh/vertex-normals';
import type { TileMesh } from './weld';

/** Within this angle a normal that the viewer derives is as good as the one that was meant. */
const AS_GOOD = Math.cos((12 * Math.PI) / 180);

/**
 * Parts a curved mesh into what hangs together and shows well with normals that the viewer derives from its shape, whose
 * normals need not travel, and the rest. On furniture and fittings normals were a quarter of the weight.
 */
export function splitByNormals(mesh: TileMesh): TileMesh[] {
  const { normals, indices } = mesh;
  if (!normals || mesh.texture >= 0) return [mesh];
  const derived = vertexNormals(mesh.positions, indices);
  const group = groupsOf(mesh);
  const spoilt = new Uint8Array(group.length);
  let any = false;
  for (let vertex = 0; vertex < group.length; vertex++) {
    if (isAsGood(derived, normals, vertex * 3)) continue;
    spoilt[group[vertex]!] = 1;
    any = true;
  }
  if (!any) return [{ ...mesh, normals: null }];
  const isSpoilt = (face: number) => spoilt[group[indices[face * 3]!]!] === 1;
  const faces = Array.from({ length: indices.length / 3 }, (_, face) => face);
  const parts = [faces.filter((face) => !isSpoilt(face)), faces.filter(isSpoilt)] as const;
  return parts.flatMap((part, i) => (part.length > 0 ? [pickFaces(mesh, part, i === 1)] : []));
}

function isAsGood(derived: Int8Array, meant: Int8Array, at: number): boolean {
  const [x, y, z] = [derived[at]!, derived[at + 1]!, derived[at + 2]!];
  const [u, v, w] = [meant[at]!, meant[at + 1]!, meant[at + 2]!];
  const lengths = Math.sqrt((x * x + y * y + z * z) * (u * u + v * v + w * w));
  return lengths > 0 && x * u + y * v + z * w >= lengths * AS_GOOD;
}

/**
 * For every vertex a number, the same for all of a surface that hangs together. Vertices of one place do, whatever their
 * normals: otherwise a facet with corners of its own would come loose, and show its rim.
 */
function groupsOf({ positions, features, indices }: TileMesh): Uint32Array {
  const count = features.length;
  const rows = new Int32Array(count * 4);
  for (let vertex = 0; vertex < count; vertex++) {
    rows.set(positions.subarray(vertex * 3, vertex * 3 + 3), vertex * 4);
    rows[vertex * 4 + 3] = features[vertex]!;
  }
  const { of: place, first } = uniqueRows(rows, 4);
  const surfaces = new DisjointSets(first.length);
  for (let i = 0; i < indices.length; i += 3)
    for (const other of [indices[i + 1]!, indices[i + 2]!]) surfaces.join(place[indices[i]!]!, place[other]!);
  return place.map((at) => surfaces.find(at));
}

function pickFaces(mesh: TileMesh, faces: number[], withNormals: boolean): TileMesh {
  const renumbered = new Map<number, number>();
  const indices = new Uint32Array(faces.length * 3);
  faces.forEach((face, i) => {
    for (let corner = 0; corner < 3; corner++) {
      const vertex = mesh.indices[face * 3 + corner]!;
      let to = renumbered.get(vertex);
      if (to === undefined) renumbered.set(vertex, (to = renumbered.size));
      indices[i * 3 + corner] = to;
    }
  });
  const vertices = [...renumbered.keys()];
  const pick = <T extends Uint16Array | Uint32Array | Int8Array>(from: T, width: number): T => {
    const Kind = from.constructor as new (length: number) => T;
    const to = new Kind(vertices.length * width);
    vertices.forEach((vertex, i) => to.set(from.subarray(vertex * width, (vertex + 1) * width), i * width));
    return to;
  };
  return {
    ...mesh,
    indices,
    positions: pick(mesh.positions, 3),
    features: pick(mesh.features, 1),
    colors: pick(mesh.colors, 4),
    normals: withNormals ? pick(mesh.normals!, 3) : null,
  };
}
