import { MeshoptSimplifier } from 'meshoptimizer';
import { cornersAround } from '@/core/mesh/corners-around';
import { faceNormals } from '@/core/mesh/face-normals';
import { uniqueRows } from '@/core/mesh/unique-rows';
import type { BuildingModel, Geometry } from '@/formats/building-model';
import { collapseDistance } from '../detail/surface-distance';
import { GeometryPool } from './share-geometries';

/** So far, in metres, may corners lie off a plane or a line and count as on it: a tenth of what is rounded away later. */
const FLAT = 0.0001;
/** Errors, in metres, that the simplifier may think it makes, the largest that holds; what it makes is measured afterwards. */
const TRIES = [0.1, 0.01, 0.001];
/** Fewer triangles than these are a box, which has none to give. */
const WORTH_IT = 14;
/** Where less than this share goes, the shape stays as it is, so that equal shapes stay equal. */
const WORTH_MERGING = 0.02;

/**
 * Merges the facets of one plane: takes corners away that only divide a flat face or a straight edge, so that no surface
 * moves by more than a tenth of a millimetre. Vertices in one place become one: most readers give every face its own, which
 * would be moved, compared and drawn three times over. Shapes with painted vertices, normals or pictures of their own stay.
 *
 * @returns another model that shares what is not changed, and how many triangles of all placements went
 */
export async function mergeFacets(model: BuildingModel): Promise<{ model: BuildingModel; saved: number }> {
  await MeshoptSimplifier.ready;
  const geometries = model.geometries.map(mergedOnce);
  const saved = model.placements.reduce(
    (sum, { geometry }) =>
      sum + (model.geometries[geometry]!.indices.length - geometries[geometry]!.indices.length) / 3,
    0,
  );
  return { model: { ...model, geometries }, saved };
}

/** What became of geometries. */
const known = new WeakMap<Geometry, Geometry>();

/** Merges facets of some of a model's geometries while others are still to come, so that less is to be done then. */
export class FacetsAhead {
  private readonly pool = new GeometryPool();

  async merge(geometries: Geometry[]): Promise<void> {
    await MeshoptSimplifier.ready;
    for (const geometry of geometries) mergedOnce(this.pool.geometries[this.pool.add(geometry)]!);
  }
}

function mergedOnce(geometry: Geometry): Geometry {
  let result = known.get(geometry);
  if (!result) known.set(geometry, (result = merged(geometry)));
  return result;
}

interface Mesh {
  positions: Float32Array;
  indices: Uint32Array;
}

function merged(geometry: Geometry): Geometry {
  if (geometry.colors || geometry.normals || geometry.uvs) return geometry;
  const mesh = joined(geometry);
  const whole = mesh.positions.length < geometry.positions.length ? mesh : geometry;
  if (geometry.indices.length / 3 < WORTH_IT) return whole;
  const flatness = new Flatness(mesh);
  if (!flatness.isWorthIt()) return whole;
  const kinds = flatness.kinds();
  let best = mesh;
  for (const kind of [IN_FACE, ON_EDGE]) if (kinds.includes(kind)) best = fewest(mesh, best, kinds, kind);
  const enough = best.indices.length <= geometry.indices.length * (1 - WORTH_MERGING);
  return enough && best.indices.length > 0 ? compact(best) : whole;
}

/** A mesh without vertices of one kind, as far as the surface stays where it was. */
function fewest(original: Mesh, mesh: Mesh, kinds: Uint8Array, kind: number): Mesh {
  for (const error of TRIES) {
    const fewer = without(mesh, kinds, kind, error);
    if (fewer.indices.length === 0 || fewer.indices.length === mesh.indices.length) continue;
    if (collapseDistance(original.positions, original.indices, fewer.indices, FLAT) <= FLAT) return fewer;
  }
  return mesh;
}

/** The same triangles over vertices of which no two are in one place. */
function joined({ positions, indices }: Geometry): Mesh {
  const words = new Int32Array(positions.slice().buffer);
  const { of, first } = uniqueRows(words, 3);
  return { positions: pick(positions, first), indices: indices.map((vertex) => of[vertex]!) };
}

/** Collapses vertices of one kind only; all others stay where they are. */
function without({ positions, indices }: Mesh, kinds: Uint8Array, kind: number, error: number): Mesh {
  const locked = kinds.map((one) => (one === kind ? 0 : 1));
  const nothing = new Float32Array(positions.length / 3);
  const [fewer] = MeshoptSimplifier.simplifyWithAttributes(indices, positions, 3, nothing, 1, [0], locked, 0, error, [
    'ErrorAbsolute',
  ]);
  return { positions, indices: fewer };
}

const CORNER = 0;
const IN_FACE = 1;
const ON_EDGE = 2;

/** Vertices that are looked at to see whether it is worth to look at all. */
const SAMPLE = 600;
/** Of which so many should be on a face or an edge. */
const WORTH_LOOKING = 0.02;

/** Tells of every vertex whether it is in the middle of a flat face, on a straight edge, or a corner. */
class Flatness {
  private readonly normals: Float64Array;
  private readonly areas: Float64Array;
  /** Faces around every vertex: those of `v` stand from `start[v]` to before `start[v + 1]`. */
  private readonly faces: Uint32Array;
  private readonly start: Uint32Array;
  private readonly count: number;

  constructor(private readonly mesh: Mesh) {
    this.count = mesh.positions.length / 3;
    const { normals, areas } = faceNormals(mesh.positions, mesh.indices);
    this.normals = normals;
    this.areas = areas;
    const { start, around } = cornersAround(mesh.indices, this.count);
    this.start = start;
    this.faces = around.map((corner) => Math.floor(corner / 3));
  }

  /** Whether a sample holds vertices that can go; curved surfaces and terrain have none. */
  isWorthIt(): boolean {
    const stride = Math.max(1, Math.floor(this.count / SAMPLE));
    let [looked, loose] = [0, 0];
    for (let vertex = 0; vertex < this.count; vertex += stride, looked++) if (this.kind(vertex) !== CORNER) loose++;
    return loose > looked * WORTH_LOOKING;
  }

  kinds(): Uint8Array {
    return Uint8Array.from({ length: this.count }, (_, vertex) => this.kind(vertex));
  }

  private kind(vertex: number): number {
    const faces = this.faces.subarray(this.start[vertex], this.start[vertex + 1]);
    return kindOf(vertex, faces, this.mesh, this.normals, this.areas);
  }
}

/** Cosine of an angle by which faces of one plane never differ: two that are alike to a third differ by less. */
const APART = 0.999;

/** What is clear at a glance, for most vertices: three faces look three ways, or one has no area and tells nothing. */
function isCorner(faces: Uint32Array, normals: Float64Array, areas: Float64Array): boolean {
  let [first, second] = [-1, -1];
  let areThree = false;
  for (const face of faces) {
    if (areas[face] === 0) return true;
    if (areThree) continue;
    if (first < 0) first = face;
    else if (cosine(normals, first, face) > APART) continue;
    else if (second < 0) second = face;
    else areThree = cosine(normals, second, face) <= APART;
  }
  return areThree;
}

/** Of the angle between two faces. */
function cosine(normals: Float64Array, a: number, b: number): number {
  return (
    normals[a * 3]! * normals[b * 3]! +
    normals[a * 3 + 1]! * normals[b * 3 + 1]! +
    normals[a * 3 + 2]! * normals[b * 3 + 2]!
  );
}

function kindOf(
  vertex: number,
  faces: Uint32Array,
  { positions, indices }: Mesh,
  normals: Float64Array,
  areas: Float64Array,
): number {
  if (isCorner(faces, normals, areas)) return CORNER;
  // The largest faces tell the planes most exactly.
  const planes: number[] = [];
  for (const face of [...faces].sort((a, b) => areas[b]! - areas[a]!)) {
    const others = [0, 1, 2].map((k) => indices[face * 3 + k]!);
    if (planes.some((plane) => isAlike(plane, face) && others.every((other) => off(plane, other) <= FLAT))) continue;
    if (planes.push(face) > 2) return CORNER;
  }
  // Neighbours that lie on the rim of the surface, or in both planes, are the next on the edge.
  const uses = new Map<number, { count: number; of: Set<number> }>();
  for (const face of faces) {
    const plane = planes.findIndex((one) => isAlike(one, face));
    for (let k = 0; k < 3; k++) {
      const other = indices[face * 3 + k]!;
      if (other === vertex) continue;
      const use = uses.get(other) ?? { count: 0, of: new Set() };
      use.count++;
      use.of.add(plane);
      uses.set(other, use);
    }
  }
  const edge = [...uses].filter(([, use]) => use.count !== 2 || use.of.size > 1).map(([other]) => other);
  if (edge.length === 0) return planes.length === 1 ? IN_FACE : CORNER;
  return edge.length === 2 && isBetween(edge[0]!, edge[1]!) ? ON_EDGE : CORNER;

  function isAlike(a: number, b: number): boolean {
    return cosine(normals, a, b) > 0.9999;
  }

  /** Distance of a vertex from a face's plane. */
  function off(plane: number, other: number): number {
    let distance = 0;
    for (let axis = 0; axis < 3; axis++)
      distance += normals[plane * 3 + axis]! * (positions[other * 3 + axis]! - positions[vertex * 3 + axis]!);
    return Math.abs(distance);
  }

  /** Whether the vertex lies on the straight way from one to another. */
  function isBetween(a: number, b: number): boolean {
    const [toA, toB] = [a, b].map((other) =>
      [0, 1, 2].map((axis) => positions[other * 3 + axis]! - positions[vertex * 3 + axis]!),
    ) as [number[], number[]];
    const along = toB.map((part, axis) => part - toA[axis]!);
    const length = Math.hypot(...along);
    const dot = toA.reduce((sum, part, axis) => sum + part * toB[axis]!, 0);
    const cross = [1, 2, 0].map((j) => toA[j]! * along[(j + 1) % 3]! - toA[(j + 1) % 3]! * along[j]!);
    return dot < 0 && Math.hypot(...cross) / length <= FLAT;
  }
}

/** The mesh without vertices that no triangle uses. */
function compact({ positions, indices }: Mesh): Geometry {
  const place = new Int32Array(positions.length / 3).fill(-1);
  const kept: number[] = [];
  const renumbered = indices.map((vertex) => {
    if (place[vertex]! < 0) place[vertex] = kept.push(vertex) - 1;
    return place[vertex]!;
  });
  return { positions: pick(positions, kept), indices: renumbered };
}

/** The positions of some vertices. */
function pick(positions: Float32Array, vertices: ArrayLike<number>): Float32Array {
  const places = new Float32Array(vertices.length * 3);
  for (let i = 0; i < vertices.length; i++)
    for (let axis = 0; axis < 3; axis++) places[i * 3 + axis] = positions[vertices[i]! * 3 + axis]!;
  return places;
}
