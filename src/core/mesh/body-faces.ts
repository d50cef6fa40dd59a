import type { Vec3 } from '../math/mat4';
import { CREASE_ANGLE } from './creases';
import { DisjointSets } from './disjoint-sets';
import { faceNormals } from './face-normals';
import { samePlaces } from './same-places';

/** Neighbouring triangles of one face lie in one plane up to this much, metres: vertices are rounded to a millimetre. */
const FLATNESS = 0.0015;
/** And they turn by less than this where they are wide enough to have a direction. */
const LEAST_COSINE = Math.cos((20 * Math.PI) / 180);

/** Faces are smooth into each other where no ink line is drawn between them. */
const SMOOTH = Math.cos(CREASE_ANGLE);

/** A part of a body's surface: flat, or smooth. */
export interface BodyFace {
  /** Of length 1, outward; of a smooth face the mean. */
  normal: Vec3;
  /** Square metres. */
  area: number;
  /** Its centre of area. */
  centre: Vec3;
  /** Its borders, the outer one against the clock seen from outside; vertices on straight lines among them. */
  loops: Vec3[][];
}

export interface BodyFaces {
  faces: BodyFace[];
  /** Number of the face a triangle; -1 for one without area. */
  of: Int32Array;
}

/**
 * The faces of a body, however they are triangulated.
 *
 * @param positions three coordinates a vertex, metres
 * @param indices three vertices a triangle
 * @param joined whether triangles that turn a little against each other, as on a round column, are one face
 */
export function bodyFaces(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  joined: 'flat' | 'smooth',
): BodyFaces {
  const { of, first } = samePlaces(positions);
  const { normals, areas } = faceNormals(positions, indices);
  const count = Math.floor(indices.length / 3);
  const places = first.length;
  const at = (place: number): Vec3 => pointAt(positions, first[place]!);
  const sets = new DisjointSets(count);
  /** By directed edge: the triangle on its left. */
  const left = new Map<number, number>();
  for (let face = 0; face < count; face++)
    for (let side = 0; side < 3; side++) {
      const [a, b] = edgeOf(indices, of, face, side);
      if (a === b) continue;
      left.set(a * places + b, face);
      const other = left.get(b * places + a);
      if (other === undefined || sets.find(other) === sets.find(face)) continue;
      if (isFlat(face, other)) sets.join(other, face);
    }

  /** How far the corner of one triangle that another lacks lies from the other's plane. */
  function heightOver(face: number, other: number): number {
    const [nx, ny, nz] = [normals[other * 3]!, normals[other * 3 + 1]!, normals[other * 3 + 2]!];
    const [ox, oy, oz] = pointAt(positions, indices[other * 3]!);
    let most = 0;
    for (let side = 0; side < 3; side++) {
      const [x, y, z] = pointAt(positions, indices[face * 3 + side]!);
      most = Math.max(most, Math.abs(nx * (x - ox) + ny * (y - oy) + nz * (z - oz)));
    }
    return most;
  }
  function isFlat(face: number, other: number): boolean {
    if (areas[face] === 0 || areas[other] === 0) return true;
    const cosine =
      normals[face * 3]! * normals[other * 3]! +
      normals[face * 3 + 1]! * normals[other * 3 + 1]! +
      normals[face * 3 + 2]! * normals[other * 3 + 2]!;
    if (joined === 'smooth') return cosine > SMOOTH;
    return cosine > LEAST_COSINE && Math.min(heightOver(face, other), heightOver(other, face)) < FLATNESS;
  }

  const members = new Map<number, number[]>();
  for (let face = 0; face < count; face++) {
    const set = sets.find(face);
    const known = members.get(set);
    if (known) known.push(face);
    else members.set(set, [face]);
  }
  const faces: BodyFace[] = [];
  const faceOf = new Int32Array(count).fill(-1);
  for (const [set, triangles] of members) {
    const normal: Vec3 = [0, 0, 0];
    const centre: Vec3 = [0, 0, 0];
    let area = 0;
    const next = new Map<number, number[]>();
    for (const face of triangles) {
      const own = areas[face]! / 2;
      area += own;
      for (let axis = 0; axis < 3; axis++) {
        normal[axis]! += normals[face * 3 + axis]! * own;
        let sum = 0;
        for (let side = 0; side < 3; side++) sum += positions[indices[face * 3 + side]! * 3 + axis]!;
        centre[axis]! += (sum / 3) * own;
      }
      for (let side = 0; side < 3; side++) {
        const [a, b] = edgeOf(indices, of, face, side);
        if (a === b) continue;
        const beyond = left.get(b * places + a);
        if (beyond !== undefined && sets.find(beyond) === set) continue;
        const known = next.get(a);
        if (known) known.push(b);
        else next.set(a, [b]);
      }
    }
    const length = Math.hypot(...normal);
    if (area === 0 || length === 0) continue;
    for (const face of triangles) faceOf[face] = faces.length;
    faces.push({
      normal: normal.map((one) => one / length) as Vec3,
      area,
      centre: centre.map((one) => one / area) as Vec3,
      loops: loopsOf(next).map((loop) => loop.map(at)),
    });
  }
  return { faces, of: faceOf };
}

/** Chains directed edges to closed loops. */
function loopsOf(next: Map<number, number[]>): number[][] {
  const loops: number[][] = [];
  for (const start of next.keys())
    while (next.get(start)!.length > 0) {
      const loop: number[] = [];
      for (let at = start; ;) {
        const to = next.get(at)?.pop();
        if (to === undefined) break;
        loop.push(at);
        at = to;
        if (at === start) break;
      }
      if (loop.length > 2) loops.push(loop);
    }
  return loops;
}

function edgeOf(indices: ArrayLike<number>, of: Uint32Array, face: number, side: number): [number, number] {
  return [of[indices[face * 3 + side]!]!, of[indices[face * 3 + ((side + 1) % 3)]!]!];
}

function pointAt(positions: ArrayLike<number>, vertex: number): Vec3 {
  return [positions[vertex * 3]!, positions[vertex * 3 + 1]!, positions[vertex * 3 + 2]!];
}
