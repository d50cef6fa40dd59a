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
  const faces = indices.length / 3;
  const isSpoilt = Uint8Array.from({ length: faces }, (_, face) => spoilt[group[indices[face * 3]!]!]!);
  return [pickFaces(mesh, isSpoilt, 0), pickFaces(mesh, isSpoilt, 1)].filter((part) => part.indices.length > 0);
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
    for (let axis = 0; axis < 3; axis++) rows[vertex * 4 + axis] = positions[vertex * 3 + axis]!;
    rows[vertex * 4 + 3] = features[vertex]!;
  }
  const { of: place, first } = uniqueRows(rows, 4);
  const surfaces = new DisjointSets(first.length);
  for (let i = 0; i < indices.length; i += 3) {
    const one = place[indices[i]!]!;
    surfaces.join(one, place[indices[i + 1]!]!);
    surfaces.join(one, place[indices[i + 2]!]!);
  }
  return place.map((at) => surfaces.find(at));
}

/** The faces that are spoilt or those that are not; only what is spoilt keeps its normals. */
function pickFaces(mesh: TileMesh, isSpoilt: Uint8Array, wanted: 0 | 1): TileMesh {
  const rowOf = new Int32Array(mesh.features.length).fill(-1);
  const vertices = new Uint32Array(mesh.features.length);
  const indices = new Uint32Array(mesh.indices.length);
  let [rows, corners] = [0, 0];
  for (let corner = 0; corner < mesh.indices.length; corner++) {
    if (isSpoilt[(corner / 3) | 0] !== wanted) continue;
    const vertex = mesh.indices[corner]!;
    if (rowOf[vertex]! < 0) {
      rowOf[vertex] = rows;
      vertices[rows++] = vertex;
    }
    indices[corners++] = rowOf[vertex]!;
  }
  const pick = <Column extends Uint16Array | Uint32Array | Int8Array>(from: Column, to: Column, width: number) => {
    for (let row = 0; row < rows; row++)
      for (let i = 0; i < width; i++) to[row * width + i] = from[vertices[row]! * width + i]!;
    return to;
  };
  return {
    ...mesh,
    indices: indices.slice(0, corners),
    positions: pick(mesh.positions, new Uint16Array(rows * 3), 3),
    features: pick(mesh.features, new Uint32Array(rows), 1),
    colors: pick(mesh.colors, new Uint16Array(rows * 4), 4),
    normals: wanted === 1 ? pick(mesh.normals!, new Int8Array(rows * 3), 3) : null,
  };
}
