import type { Creases } from './creases';

/** What is needed to know of a mesh beside its creases. */
export interface SeamMesh {
  /** Three coordinates a vertex; seams are found where those of two elements agree exactly. */
  positions: ArrayLike<number>;
  /** Element a vertex. */
  elements: ArrayLike<number>;
  /** What a vertex looks like; only surfaces that look alike run on into each other. */
  looks: ArrayLike<number>;
  /** By element: a number of its kind, such as of all walls; 0 where its edges are always drawn. */
  kinds: ArrayLike<number>;
}

/** Lines with what lies on their other side. */
export interface SeamedLines {
  /** Two vertices a line. */
  vertices: Uint32Array;
  /** Element a line. */
  elements: Uint32Array;
  /** The element into which the surface runs on there, a line each; -1 where it ends. */
  beside: Int32Array;
}

/** Faces whose normals agree, or are opposed, to this cosine lie in one plane. */
const SAME_DIRECTION = 0.9995;

interface Edge {
  /** Number of the crease. */
  crease: number;
  element: number;
  /** Vertices at its lower and upper end, and where they are along the line. */
  ends: [number, number];
  at: [number, number];
}

/**
 * Finds where the surface of one element runs on into that of another: two walls end to end leave a line on a facade that
 * is one plane to the eye. Such a line is told apart, so that it is drawn only while one of the two is not shown. An edge
 * along an axis is divided where its neighbours end; another one is a seam if both of its ends are those of the other's.
 *
 * @param creases of the mesh, with the normals of the faces that meet in them
 */
export function findSeams({ positions, elements, looks, kinds }: SeamMesh, creases: Creases): SeamedLines {
  const groups = new Map<string, Edge[]>();
  const alone: number[] = [];
  for (let crease = 0; crease * 2 < creases.lines.length; crease++) {
    const [a, b] = [creases.lines[crease * 2]!, creases.lines[crease * 2 + 1]!];
    const kind = kinds[elements[a]!] ?? 0;
    if (kind === 0) {
      alone.push(crease);
      continue;
    }
    const line = lineOf(positions, a, b);
    const key = `${line.key}/${kind}/${looks[a]}`;
    const edge: Edge = { crease, element: elements[a]!, ends: line.ends, at: line.at };
    const known = groups.get(key);
    if (known) known.push(edge);
    else groups.set(key, [edge]);
  }

  const vertices: number[] = [];
  const owners: number[] = [];
  const beside: number[] = [];
  const add = (from: number, to: number, element: number, other: number) => {
    vertices.push(from, to);
    owners.push(element);
    beside.push(other);
  };
  for (const crease of alone) {
    const from = creases.lines[crease * 2]!;
    add(from, creases.lines[crease * 2 + 1]!, elements[from]!, -1);
  }
  for (const edges of groups.values()) {
    edges.sort((a, b) => a.at[0] - b.at[0]);
    for (const edge of edges) {
      let [from, at] = [edge.ends[0], edge.at[0]];
      for (const other of edges) {
        if (other.at[0] >= edge.at[1]) break;
        if (other.element === edge.element || other.at[1] <= at || !runsOn(creases.normals, edge, other)) continue;
        if (other.at[0] > at) {
          add(from, other.ends[0], edge.element, -1);
          [from, at] = [other.ends[0], other.at[0]];
        }
        const end = other.at[1] < edge.at[1] ? 1 : 0;
        const to = end === 1 ? other.ends[1] : edge.ends[1];
        add(from, to, edge.element, other.element);
        [from, at] = [to, end === 1 ? other.at[1] : edge.at[1]];
        if (at >= edge.at[1]) break;
      }
      if (at < edge.at[1]) add(from, edge.ends[1], edge.element, -1);
    }
  }
  return {
    vertices: Uint32Array.from(vertices),
    elements: Uint32Array.from(owners),
    beside: Int32Array.from(beside),
  };
}

/** The line that an edge lies on: one of an axis, or, of an edge that is askew, just the edge. */
function lineOf(p: ArrayLike<number>, a: number, b: number): { key: string } & Pick<Edge, 'ends' | 'at'> {
  const differs = [0, 1, 2].filter((axis) => p[a * 3 + axis] !== p[b * 3 + axis]);
  if (differs.length === 1) {
    const axis = differs[0]!;
    const others = [0, 1, 2].filter((other) => other !== axis).map((other) => p[a * 3 + other]);
    const [low, high] = p[a * 3 + axis]! < p[b * 3 + axis]! ? [a, b] : [b, a];
    return { key: `${axis}:${others.join()}`, ends: [low, high], at: [p[low * 3 + axis]!, p[high * 3 + axis]!] };
  }
  const ends = [a, b].map((vertex) => `${p[vertex * 3]},${p[vertex * 3 + 1]},${p[vertex * 3 + 2]}`);
  const [low, high] = ends[0]! < ends[1]! ? [a, b] : [b, a];
  return { key: ends.sort().join(), ends: [low, high], at: [0, 1] };
}

/**
 * Whether one face of each edge lies in one plane with the other's, and what else meets there touches back to back.
 *
 * @param normals six numbers a crease: those of its two faces, the second zero at a rim
 */
function runsOn(normals: ArrayLike<number>, { crease: a }: Edge, { crease: b }: Edge): boolean {
  const turn = (i: number, j: number) =>
    normals[a * 6 + i * 3]! * normals[b * 6 + j * 3]! +
    normals[a * 6 + i * 3 + 1]! * normals[b * 6 + j * 3 + 1]! +
    normals[a * 6 + i * 3 + 2]! * normals[b * 6 + j * 3 + 2]!;
  const isRim = (c: number) => normals[c * 6 + 3] === 0 && normals[c * 6 + 4] === 0 && normals[c * 6 + 5] === 0;
  if (isRim(a) || isRim(b)) return isRim(a) && isRim(b) && turn(0, 0) > SAME_DIRECTION;
  return [0, 1].some((i) => [0, 1].some((j) => turn(i, j) > SAME_DIRECTION && turn(1 - i, 1 - j) < -SAME_DIRECTION));
}
