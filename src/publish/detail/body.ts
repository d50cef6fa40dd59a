import { boxCorner, emptyBox, expandByPoint } from '@/core/math/box3';
import { usedVertices } from '../geometry/used-vertices';
import type { DetailPart } from './split-pieces';
import { SurfaceDistance } from './surface-distance';

/** A body of twelve triangles only pays for parts with more than this. */
const WORTH_IT = 24;
const CELLS = 4;
/** Points on the faces of a box: axis, side, shares along the other two axes. Middles first: most shapes fail there. */
const LATTICE = [0, 1, 2]
  .flatMap((axis) =>
    [0, 3].flatMap((side) =>
      Array.from({ length: (CELLS + 1) ** 2 }, (_, n): [axis: number, side: number, i: number, j: number] => [
        axis,
        side,
        (n % (CELLS + 1)) / CELLS,
        Math.floor(n / (CELLS + 1)) / CELLS,
      ]),
    ),
  )
  .sort(([, , i, j], [, , k, l]) => Math.hypot(i - 0.5, j - 0.5) - Math.hypot(k - 0.5, l - 0.5));
/** Directions are told apart to a tenth of a degree. */
const TURN = Math.PI / 1800;
const DIRECTIONS = 6;
const FACES = [
  0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5,
];

/**
 * A plain box in a part's place, upright and turned as the part lies, where the two surfaces are nowhere farther apart
 * than is allowed: a cupboard with handles and hinges is one from afar, a chair is not.
 *
 * @param allowed metres, counted from the full surface
 * @returns null where a box would be too far off
 */
export function boxBody(part: DetailPart, allowed: number): DetailPart | null {
  const room = allowed - part.error;
  if (part.indices.length / 3 <= WORTH_IT || room <= 0) return null;
  const turn = mainDirection(part);
  const [cos, sin] = [Math.cos(turn), Math.sin(turn)];
  const corners = turnedCorners(part, cos, sin);
  const box = emptyBox();
  for (let i = 0; i < corners.length; i += 3) expandByPoint(box, corners[i]!, corners[i + 1]!, corners[i + 2]!);

  /** How far the surface lies inside the box. */
  let farthest = 0;
  for (let i = 0; i < corners.length; i += 3) {
    let depth = Infinity;
    for (let axis = 0; axis < 3; axis++)
      depth = Math.min(depth, corners[i + axis]! - box[axis]!, box[axis + 3]! - corners[i + axis]!);
    if (depth > farthest) farthest = depth;
    if (farthest > room) return null;
  }
  /** And how far the box stands off the surface, at a lattice of points on its faces. */
  const surface = new SurfaceDistance(part);
  for (const [axis, side, i, j] of LATTICE) {
    const local = [0, 0, 0];
    const [u, v] = [(axis + 1) % 3, (axis + 2) % 3];
    local[axis] = box[axis + side]!;
    local[u] = box[u]! + (box[u + 3]! - box[u]!) * i;
    local[v] = box[v]! + (box[v + 3]! - box[v]!) * j;
    const [x, y] = [local[0]! * cos - local[1]! * sin, local[0]! * sin + local[1]! * cos];
    farthest = Math.max(farthest, surface.from(x, y, local[2]!, room, farthest));
    if (farthest > room) return null;
  }

  const positions = new Float64Array(24);
  const world = emptyBox();
  for (let corner = 0; corner < 8; corner++) {
    const [a, b, z] = boxCorner(box, corner);
    const [x, y] = [a * cos - b * sin, a * sin + b * cos];
    positions.set([x, y, z], corner * 3);
    expandByPoint(world, x, y, z);
  }
  return {
    ...part,
    positions,
    indices: Uint32Array.from(FACES),
    colors: part.colors && meanColour(part.colors),
    normals: null,
    uvs: null,
    box: world,
    error: part.error + farthest,
  };
}

/** The vertices that triangles use, turned about Z so that the box lies along the axes; three numbers each. */
function turnedCorners(part: DetailPart, cos: number, sin: number): Float64Array {
  const { positions: p } = part;
  const used = usedVertices(part);
  const corners = new Float64Array(used.length * 3);
  for (let i = 0, to = 0; i < used.length; i++) {
    const at = used[i]! * 3;
    corners[to++] = p[at]! * cos + p[at + 1]! * sin;
    corners[to++] = p[at + 1]! * cos - p[at]! * sin;
    corners[to++] = p[at + 2]!;
  }
  return corners;
}

/**
 * Angle about Z, in radians, of the narrowest upright box: tried are the directions in which most of the level edges run.
 */
function mainDirection({ positions: p, indices }: DetailPart): number {
  const lengths = new Map<number, number>();
  for (let i = 0; i < indices.length; i++) {
    const from = indices[i]! * 3;
    const to = indices[i % 3 === 2 ? i - 2 : i + 1]! * 3;
    const [x, y, z] = [p[to]! - p[from]!, p[to + 1]! - p[from + 1]!, p[to + 2]! - p[from + 2]!];
    const level = Math.hypot(x, y);
    if (level === 0 || Math.abs(z) > level * 0.01) continue;
    // A box looks the same after a quarter turn.
    const turn = Math.round((Math.atan2(y, x) + 2 * Math.PI) / TURN) % Math.round(Math.PI / 2 / TURN);
    lengths.set(turn, (lengths.get(turn) ?? 0) + level);
  }
  const tried = [...lengths].sort((a, b) => b[1] - a[1]).slice(0, DIRECTIONS);
  let best = { angle: 0, area: Infinity };
  for (const [turn] of tried) {
    const angle = turn * TURN;
    const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
    const box = emptyBox();
    for (const vertex of indices) {
      const [x, y] = [p[vertex * 3]!, p[vertex * 3 + 1]!];
      expandByPoint(box, x * cos + y * sin, y * cos - x * sin, 0);
    }
    const area = (box[3] - box[0]) * (box[4] - box[1]);
    if (area < best.area) best = { angle, area };
  }
  return best.angle;
}

/** The mean of all vertices, for eight of them. */
function meanColour(colors: Uint8Array): Uint8Array {
  const mean = [0, 1, 2, 3].map((channel) => {
    let sum = 0;
    for (let i = channel; i < colors.length; i += 4) sum += colors[i]!;
    return Math.round((sum * 4) / colors.length);
  });
  return Uint8Array.from({ length: 32 }, (_, i) => mean[i % 4]!);
}
