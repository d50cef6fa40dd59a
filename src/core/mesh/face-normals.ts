export interface FaceNormals {
  /** Unit normals, three numbers a triangle; zeros for a triangle without area. */
  normals: Float64Array;
  /** Twice the area of every triangle, in the square of the positions' unit. */
  areas: Float64Array;
}

/**
 * Normals of triangles, by the right-hand rule.
 *
 * @param positions three coordinates a vertex
 * @param indices three vertices a triangle
 * @param out where they go; may have room for more
 */
export function faceNormals(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  out: FaceNormals = roomForNormals(Math.floor(indices.length / 3)),
): FaceNormals {
  const { normals, areas } = out;
  const count = Math.floor(indices.length / 3);
  for (let face = 0, i = 0; face < count; face++, i += 3) {
    const a = indices[i]! * 3;
    const b = indices[i + 1]! * 3;
    const c = indices[i + 2]! * 3;
    const ux = positions[b]! - positions[a]!;
    const uy = positions[b + 1]! - positions[a + 1]!;
    const uz = positions[b + 2]! - positions[a + 2]!;
    const vx = positions[c]! - positions[a]!;
    const vy = positions[c + 1]! - positions[a + 1]!;
    const vz = positions[c + 2]! - positions[a + 2]!;
    const x = uy * vz - uz * vy;
    const y = uz * vx - ux * vz;
    const z = ux * vy - uy * vx;
    const area = Math.sqrt(x * x + y * y + z * z);
    areas[face] = area;
    normals[i] = area === 0 ? 0 : x / area;
    normals[i + 1] = area === 0 ? 0 : y / area;
    normals[i + 2] = area === 0 ? 0 : z / area;
  }
  return out;
}

/** Room for the normals of so many triangles. */
export function roomForNormals(triangles: number): FaceNormals {
  return { normals: new Float64Array(triangles * 3), areas: new Float64Array(triangles) };
}
