import { MeshoptSimplifier, type SimplifierFlags } from 'meshoptimizer';
import { emptyBox, expandByPoint } from '@/core/math/box3';
import { nearZero } from '@/core/mesh/near-zero';
import { uniqueRows } from '@/core/mesh/unique-rows';
import { latticeStep } from '../geometry/curved-normals';
import { pickVertices } from '../geometry/smooth';
import { usedVertices, withoutUnused } from '../geometry/used-vertices';
import type { DetailPart } from './split-pieces';
import { collapseDistance } from './surface-distance';

/** Fewer triangles than these are left as they are: a box has twelve. */
const WORTH_IT = 16;
/**
 * Shares of what is allowed to ask the simplifier for, one after the other: it bounds a mean distance, and the farthest
 * point is mostly some way beyond. Asked to, it takes away corners freely that look another way to every side.
 */
const TRIES: [target: number, freely: boolean][] = [0.6, 0.3, 0.15].map((target) => [target, false]);
/** Otherwise such corners would stay for good. */
const FREE_TRIES: typeof TRIES = [[0.6, true], [0.3, true], ...TRIES.slice(0, 2)];
/** A surface is broken, such as a scan or a rock, where at more than this share of its corners three flat sides or more meet. */
const BROKEN = 0.1;

/**
 * Takes triangles away as far as the surface moves by no more than is allowed, counted from the full surface. The rim of
 * a part that was cut from a larger one stays, so that its neighbours still meet it.
 *
 * @param allowed metres
 * @returns the same part where nothing can be taken away
 */
export async function simplify(part: DetailPart, allowed: number): Promise<DetailPart> {
  const room = allowed - part.error;
  if (part.indices.length / 3 < WORTH_IT || room <= 0) return part;
  await MeshoptSimplifier.ready;
  const joined = joinVertices(part);
  const vertices = joined.positions.length / 3;
  const local = nearZero(joined.positions, part.box);
  const isBroken = brokenShare(local) > BROKEN;
  for (const [target, freely] of isBroken ? FREE_TRIES : TRIES) {
    const flags: SimplifierFlags[] = ['ErrorAbsolute', part.isCut ? 'LockBorder' : 'Prune'];
    if (freely) flags.push('Permissive');
    const [indices] = MeshoptSimplifier.simplifyWithAttributes(
      joined.indices,
      local,
      3,
      joined.uvs ?? new Float32Array(vertices * 2),
      2,
      joined.uvs ? uvWeights(joined, local) : [0, 0],
      null,
      0,
      room * target,
      flags,
    );
    if (indices.length === 0) continue;
    if (indices.length > joined.indices.length * 0.9) break;
    const moved = collapseDistance(joined.positions, joined.indices, indices, room);
    if (moved > room) continue;
    return withBox(withoutUnused({ ...joined, indices, error: part.error + moved }));
  }
  return part;
}

/**
 * Takes triangles away until no more than so many are left, whatever becomes of holes, rims and pictures: of a shape with
 * so many seams that it cannot be simplified, this shows at least what it is.
 */
export async function simplifyRoughly(part: DetailPart, triangles: number): Promise<DetailPart> {
  await MeshoptSimplifier.ready;
  const local = nearZero(part.positions, part.box);
  const [indices] = MeshoptSimplifier.simplifySloppy(part.indices, local, 3, null, triangles * 3, 1);
  if (indices.length === 0 || indices.length === part.indices.length) return part;
  const moved = collapseDistance(part.positions, part.indices, indices);
  return withBox(withoutUnused({ ...part, indices, error: part.error + moved }));
}

/** Share of the places where three vertices or more lie. */
function brokenShare(positions: Float32Array): number {
  const first = MeshoptSimplifier.generatePositionRemap(positions, 3);
  const vertices = new Uint32Array(first.length);
  for (const place of first) vertices[place]!++;
  const count = (atLeast: number) => vertices.reduce((sum, here) => sum + (here >= atLeast ? 1 : 0), 0);
  return count(3) / count(1);
}

/** The part with vertices joined that agree in everything, and without those that no triangle uses. */
export function joinVertices(part: DetailPart): DetailPart {
  const { positions: p, normals, colors, uvs, indices } = part;
  const used = usedVertices(part);
  const step = latticeStep(part.box);
  const rows = new Int32Array(used.length * 7);
  used.forEach((vertex, i) => {
    for (let axis = 0; axis < 3; axis++)
      rows[i * 7 + axis] = Math.round((p[vertex * 3 + axis]! - part.box[axis]!) / step);
    if (normals)
      rows[i * 7 + 3] =
        (normals[vertex * 3]! & 255) |
        ((normals[vertex * 3 + 1]! & 255) << 8) |
        ((normals[vertex * 3 + 2]! & 255) << 16);
    if (colors)
      rows[i * 7 + 4] =
        colors[vertex * 4]! |
        (colors[vertex * 4 + 1]! << 8) |
        (colors[vertex * 4 + 2]! << 16) |
        (colors[vertex * 4 + 3]! << 24);
    if (uvs) for (let axis = 0; axis < 2; axis++) rows[i * 7 + 5 + axis] = Math.round(uvs[vertex * 2 + axis]! * 65536);
  });
  const { of, first } = uniqueRows(rows, 7);
  const rowOf = new Uint32Array(p.length / 3);
  used.forEach((vertex, i) => (rowOf[vertex] = of[i]!));
  const vertices = first.map((row) => used[row]!);
  const joined = pick(
    part,
    vertices,
    indices.map((vertex) => rowOf[vertex]!),
  );
  // Vertices of one place but of two normals or two places in the picture must agree to the last bit.
  first.forEach((row, i) => {
    for (let axis = 0; axis < 3; axis++)
      joined.positions[i * 3 + axis] = part.box[axis]! + rows[row * 7 + axis]! * step;
  });
  return joined;
}

/** Parts of one piece put together again. */
export function joinParts(parts: DetailPart[]): DetailPart {
  const [one] = parts as [DetailPart];
  if (parts.length === 1) return one;
  const concat = <T extends Float64Array | Float32Array | Uint8Array | Int8Array>(columns: T[], to: T): T => {
    let at = 0;
    for (const column of columns) {
      to.set(column, at);
      at += column.length;
    }
    return to;
  };
  const lean = parts.map((part) => withoutUnused(part));
  const count = lean.reduce((sum, part) => sum + part.positions.length / 3, 0);
  const indices = new Uint32Array(lean.reduce((sum, part) => sum + part.indices.length, 0));
  let [vertex, corner] = [0, 0];
  for (const part of lean) {
    for (const index of part.indices) indices[corner++] = index + vertex;
    vertex += part.positions.length / 3;
  }
  const has = (column: 'colors' | 'normals' | 'uvs') => lean.every((part) => part[column] !== null);
  return withBox({
    ...one,
    positions: concat(
      lean.map((part) => part.positions),
      new Float64Array(count * 3),
    ),
    colors: has('colors')
      ? concat(
          lean.map((part) => part.colors!),
          new Uint8Array(count * 4),
        )
      : null,
    normals: has('normals')
      ? concat(
          lean.map((part) => part.normals!),
          new Int8Array(count * 3),
        )
      : null,
    uvs: has('uvs')
      ? concat(
          lean.map((part) => part.uvs!),
          new Float32Array(count * 2),
        )
      : null,
    indices,
    covers: lean.reduce((sum, part) => sum + part.covers, 0),
    error: Math.max(...lean.map((part) => part.error)),
  });
}

function pick(part: DetailPart, vertices: Uint32Array, indices: Uint32Array): DetailPart {
  return withBox({ ...part, ...pickVertices(part, vertices), indices });
}

function withBox(part: DetailPart): DetailPart {
  const box = emptyBox();
  const { positions: p } = part;
  for (let i = 0; i < p.length; i += 3) expandByPoint(box, p[i]!, p[i + 1]!, p[i + 2]!);
  return { ...part, box };
}

/** Weights that make a shift within the picture count like the same shift on the surface. */
function uvWeights({ uvs, indices }: DetailPart, local: Float32Array): [number, number] {
  let surface = 0;
  let picture = 0;
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [indices[i]!, indices[i + 1]!, indices[i + 2]!];
    const edge = (from: number, to: number, axis: number) => local[to * 3 + axis]! - local[from * 3 + axis]!;
    const [ux, uy, uz] = [edge(a, b, 0), edge(a, b, 1), edge(a, b, 2)];
    const [vx, vy, vz] = [edge(a, c, 0), edge(a, c, 1), edge(a, c, 2)];
    surface += Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
    const flat = (from: number, to: number, axis: number) => uvs![to * 2 + axis]! - uvs![from * 2 + axis]!;
    picture += Math.abs(flat(a, b, 0) * flat(a, c, 1) - flat(a, c, 0) * flat(a, b, 1));
  }
  if (surface === 0 || picture === 0) return [0, 0];
  const weight = Math.sqrt(surface / picture) / Math.max(MeshoptSimplifier.getScale(local, 3), 1e-9);
  return [weight, weight];
}
