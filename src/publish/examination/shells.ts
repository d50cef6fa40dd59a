import { longestSide } from '@/core/math/box3';
import { uniqueRows } from '@/core/mesh/unique-rows';
import type { Piece } from '../geometry/element-geometry';
import type { Check, Examined } from './examined';

/** What a surface is like: closed or not, and the volume that it encloses, negative where it looks inwards. */
interface Shell {
  closed: boolean;
  volume: number;
}

/** Corners that agree to this share of the longest side are one; three such numbers fit into 32 bits each. */
const STEPS = 2 ** 17;
/** Less than this, in cubic metres, is a sheet and has no inside. */
const NO_VOLUME = 1e-9;

/** Solids whose faces look inwards, and surfaces that are no solids; plain sheets of glass and ground are neither. */
export function examineShells({ pieces }: Examined): { insideOut: Check; open: Check } {
  const insideOut: number[] = [];
  const open: number[] = [];
  // Placements of one geometry share its triangles, and are closed or not, and inside out or not, like each other.
  const known = new Map<Uint32Array, Shell>();
  const shellOnce = (piece: Piece): Shell => {
    let shell = known.get(piece.indices);
    if (!shell) known.set(piece.indices, (shell = shellOf(piece)));
    return shell;
  };
  pieces.forEach((own, row) => {
    const shells = own.map(shellOnce);
    if (shells.length === 0) return;
    if (shells.some((shell) => shell.closed && shell.volume < -NO_VOLUME)) insideOut.push(row);
    else if (own.length === 1 && !shells[0]!.closed && !isFlat(own[0]!)) open.push(row);
  });
  return {
    insideOut: {
      rows: insideOut,
      detail: 'Faces look inwards, so that in other programs light falls on them from the wrong side.',
    },
    open: { rows: open, detail: 'The surface has holes, so that no volume can be told.' },
  };
}

export function shellOf({ positions, indices, box }: Piece): Shell {
  const step = Math.max(longestSide(box), 1e-6) / (STEPS - 1);
  const words = new Int32Array(positions.length);
  for (let i = 0; i < words.length; i++) words[i] = Math.round((positions[i]! - box[i % 3]!) / step);
  const { of: corner } = uniqueRows(words, 3);
  // Every edge of a closed surface is passed as often in one direction as in the other. Instead of counting passes edge
  // by edge, each adds or takes away a number drawn from its two ends; what is left over at the end is not closed.
  let [first, second] = [0, 0];
  let volume = 0;
  let faces = 0;
  for (let i = 0; i + 2 < indices.length; i += 3) {
    const a = corner[indices[i]!]!;
    const b = corner[indices[i + 1]!]!;
    const c = corner[indices[i + 2]!]!;
    if (a === b || b === c || a === c) continue;
    first = (first + passage(a, b, 0x2545f491) + passage(b, c, 0x2545f491) + passage(c, a, 0x2545f491)) | 0;
    second = (second + passage(a, b, 0x6c8e9cf5) + passage(b, c, 0x6c8e9cf5) + passage(c, a, 0x6c8e9cf5)) | 0;
    volume += tetrahedron(positions, indices, i, box);
    faces++;
  }
  return { closed: faces > 0 && first === 0 && second === 0, volume };
}

/** A number of 32 bits that belongs to an edge, with the sign of the direction in which it is passed. */
function passage(from: number, to: number, seed: number): number {
  const [low, high] = from < to ? [from, to] : [to, from];
  let hash = Math.imul(low ^ seed, 0x85ebca6b);
  hash = Math.imul((hash ^ (hash >>> 15)) + high, 0xc2b2ae35);
  hash = Math.imul(hash ^ (hash >>> 13), 0x27d4eb2f);
  hash ^= hash >>> 16;
  return from < to ? hash : -hash;
}

/** Signed volume between a triangle and the lower corner of the box, so that large coordinates cost no precision. */
function tetrahedron(p: Float64Array, indices: Uint32Array, at: number, box: ArrayLike<number>): number {
  const a = indices[at]! * 3;
  const b = indices[at + 1]! * 3;
  const c = indices[at + 2]! * 3;
  const ax = p[a]! - box[0]!;
  const ay = p[a + 1]! - box[1]!;
  const az = p[a + 2]! - box[2]!;
  const bx = p[b]! - box[0]!;
  const by = p[b + 1]! - box[1]!;
  const bz = p[b + 2]! - box[2]!;
  const cx = p[c]! - box[0]!;
  const cy = p[c + 1]! - box[1]!;
  const cz = p[c + 2]! - box[2]!;
  return (ax * (by * cz - bz * cy) - ay * (bx * cz - bz * cx) + az * (bx * cy - by * cx)) / 6;
}

/** Whether a surface lies in one plane, along any direction. */
function isFlat({ positions, indices }: Piece): boolean {
  const point = (i: number) => [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!];
  let normal: number[] | null = null;
  let through: number[] = [];
  for (let i = 0; i + 2 < indices.length; i += 3) {
    const [a, b, c] = [point(indices[i]!), point(indices[i + 1]!), point(indices[i + 2]!)];
    const u = a.map((value, axis) => b[axis]! - value);
    const v = a.map((value, axis) => c[axis]! - value);
    const n = [u[1]! * v[2]! - u[2]! * v[1]!, u[2]! * v[0]! - u[0]! * v[2]!, u[0]! * v[1]! - u[1]! * v[0]!];
    const length = Math.hypot(...n);
    if (length < 1e-12) continue;
    if (!normal) {
      normal = n.map((value) => value / length);
      through = a;
    }
    for (const corner of [a, b, c]) {
      const off = normal.reduce((sum, value, axis) => sum + value * (corner[axis]! - through[axis]!), 0);
      if (Math.abs(off) > 1e-4) return false;
    }
  }
  return true;
}
