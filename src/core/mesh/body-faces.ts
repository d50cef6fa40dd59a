import type { Vec3 } from '../math/mat4';
import { distance, dot, subtract, unit } from '../math/vec3';
import { CREASE_ANGLE } from './creases';
import { DisjointSets } from './disjoint-sets';
import { faceNormals } from './face-normals';
import { samePlaces } from './same-places';

/** Triangles of one face lie in one plane up to this much, metres: vertices are rounded to a millimetre. */
const FLATNESS = 0.0013;
/** And they turn by no more than this, radians, and what rounding may have turned them. */
const MOST_TURN = (5 * Math.PI) / 180;
/** Metres by which rounding moves one vertex against another at most. */
const ROUNDING = 0.0017;
/** Parts of more triangles are not looked at again: rounding turns small ones. */
const MOST_REJOINED = 32;
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
  const mesh = neighbourhood(positions, indices);
  const { count, neighbour, edge, at, areas, normals } = mesh;
  const region = joined === 'flat' ? flatRegions(mesh) : smoothRegions(mesh);
  const members = new Map<number, number[]>();
  for (let face = 0; face < count; face++) {
    const known = members.get(region[face]!);
    if (known) known.push(face);
    else members.set(region[face]!, [face]);
  }
  const faces: BodyFace[] = [];
  const of = new Int32Array(count).fill(-1);
  for (const [own, triangles] of members) {
    const plane = new GrowingPlane();
    const next = new Map<number, number[]>();
    for (const face of triangles) {
      plane.add(mesh.corners(face), [normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!], areas[face]!);
      for (let side = 0; side < 3; side++) {
        const beyond = neighbour(face, side);
        const [a, b] = edge(face, side);
        if (a === b || (beyond !== undefined && region[beyond] === own)) continue;
        const known = next.get(a);
        if (known) known.push(b);
        else next.set(a, [b]);
      }
    }
    if (plane.isEmpty) continue;
    for (const face of triangles) of[face] = faces.length;
    faces.push({
      normal: plane.normal,
      area: plane.weight / 2,
      centre: plane.centre,
      loops: loopsOf(next).map((loop) => loop.map(at)),
    });
  }
  return { faces, of };
}

type Neighbourhood = ReturnType<typeof neighbourhood>;

/** Triangles with what they share edges with. */
function neighbourhood(positions: ArrayLike<number>, indices: ArrayLike<number>) {
  const { of, first } = samePlaces(positions);
  const { normals, areas } = faceNormals(positions, indices);
  const count = Math.floor(indices.length / 3);
  const places = first.length;
  const edge = (face: number, side: number): [number, number] => [
    of[indices[face * 3 + side]!]!,
    of[indices[face * 3 + ((side + 1) % 3)]!]!,
  ];
  /** By directed edge: the triangle on its left. */
  const left = new Map<number, number>();
  for (let face = 0; face < count; face++)
    for (let side = 0; side < 3; side++) {
      const [a, b] = edge(face, side);
      if (a !== b) left.set(a * places + b, face);
    }
  return {
    count,
    normals,
    /** Twice the area of each. */
    areas,
    edge,
    at: (place: number): Vec3 => pointAt(positions, first[place]!),
    corners: (face: number) => [0, 1, 2].map((side) => pointAt(positions, indices[face * 3 + side]!)) as Corners,
    neighbour: (face: number, side: number) => {
      const [a, b] = edge(face, side);
      return a === b ? undefined : left.get(b * places + a);
    },
  };
}

type Corners = [Vec3, Vec3, Vec3];

function smoothRegions({ count, neighbour, normals, areas }: Neighbourhood): Int32Array {
  const sets = new DisjointSets(count);
  for (let face = 0; face < count; face++)
    for (let side = 0; side < 3; side++) {
      const other = neighbour(face, side);
      if (other === undefined) continue;
      if (areas[face] === 0 || areas[other] === 0 || cosineOf(normals, face, other) > SMOOTH) sets.join(other, face);
    }
  return Int32Array.from({ length: count }, (_, face) => sets.find(face));
}

/**
 * Neighbours that lie in one plane are joined first; then parts that rounding has turned apart, where one plane holds both.
 */
function flatRegions(mesh: Neighbourhood): Int32Array {
  const { count, neighbour } = mesh;
  const sets = new DisjointSets(count);
  for (let face = 0; face < count; face++)
    for (let side = 0; side < 3; side++) {
      const other = neighbour(face, side);
      if (other !== undefined && isFlat(mesh, face, other)) sets.join(other, face);
    }
  const parts = new Map<number, number[]>();
  for (let face = 0; face < count; face++) {
    const set = sets.find(face);
    const known = parts.get(set);
    if (known) known.push(face);
    else parts.set(set, [face]);
  }
  for (let face = 0; face < count; face++)
    for (let side = 0; side < 3; side++) {
      const other = neighbour(face, side);
      if (other === undefined) continue;
      const [into, from] = [sets.find(face), sets.find(other)];
      if (into === from) continue;
      const [one, two] = [parts.get(into)!, parts.get(from)!];
      if (Math.min(one.length, two.length) > MOST_REJOINED || !isOnePlane(mesh, [...one, ...two])) continue;
      sets.join(face, other);
      parts.set(sets.find(face), [...one, ...two]);
    }
  return Int32Array.from({ length: count }, (_, face) => sets.find(face));
}

function isFlat(mesh: Neighbourhood, face: number, other: number): boolean {
  const { areas, normals } = mesh;
  if (areas[face] === 0 || areas[other] === 0) return true;
  const turn = Math.acos(Math.min(1, Math.max(-1, cosineOf(normals, face, other))));
  if (turn > MOST_TURN + sway(mesh, face) + sway(mesh, other)) return false;
  return Math.min(heightOver(mesh, face, other), heightOver(mesh, other, face)) < FLATNESS;
}

/** By how much rounding may have turned a triangle: much where it is narrow. Radians. */
function sway({ corners, areas }: Neighbourhood, face: number): number {
  const [a, b, c] = corners(face);
  const longest = Math.max(distance(a, b), distance(b, c), distance(c, a));
  return Math.asin(Math.min(1, (ROUNDING * longest) / areas[face]!));
}

/** How far the farthest corner of one triangle lies from another's plane. */
function heightOver({ corners, normals }: Neighbourhood, face: number, other: number): number {
  const normal: Vec3 = [normals[other * 3]!, normals[other * 3 + 1]!, normals[other * 3 + 2]!];
  const [origin] = corners(other);
  return Math.max(...corners(face).map((corner) => Math.abs(dot(normal, subtract(corner, origin)))));
}

function isOnePlane({ corners, normals, areas }: Neighbourhood, faces: readonly number[]): boolean {
  const plane = new GrowingPlane();
  for (const face of faces)
    plane.add(corners(face), [normals[face * 3]!, normals[face * 3 + 1]!, normals[face * 3 + 2]!], areas[face]!);
  if (plane.isEmpty) return true;
  const { normal, centre } = plane;
  return faces.every((face) =>
    corners(face).every((corner) => Math.abs(dot(normal, subtract(corner, centre))) < FLATNESS),
  );
}

function cosineOf(normals: Float64Array, face: number, other: number): number {
  return (
    normals[face * 3]! * normals[other * 3]! +
    normals[face * 3 + 1]! * normals[other * 3 + 1]! +
    normals[face * 3 + 2]! * normals[other * 3 + 2]!
  );
}

/** The mean plane of triangles. */
class GrowingPlane {
  private readonly sum: Vec3 = [0, 0, 0];
  private readonly middle: Vec3 = [0, 0, 0];
  /** Twice the area of all. */
  weight = 0;

  get isEmpty(): boolean {
    return this.weight === 0 || Math.hypot(...this.sum) === 0;
  }

  get normal(): Vec3 {
    return unit(this.sum);
  }

  get centre(): Vec3 {
    return this.middle.map((one) => one / this.weight) as Vec3;
  }

  add(corners: Corners, normal: Vec3, weight: number): void {
    this.weight += weight;
    for (let axis = 0; axis < 3; axis++) {
      this.sum[axis]! += normal[axis]! * weight;
      this.middle[axis]! += ((corners[0][axis]! + corners[1][axis]! + corners[2][axis]!) / 3) * weight;
    }
  }
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

function pointAt(positions: ArrayLike<number>, vertex: number): Vec3 {
  return [positions[vertex * 3]!, positions[vertex * 3 + 1]!, positions[vertex * 3 + 2]!];
}
