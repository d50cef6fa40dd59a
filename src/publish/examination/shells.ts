import { boxSize } from '@/core/math/box3';
import type { Piece } from '../element-geometry';
import type { Check, Examined } from './examined';

/** What a surface is like: closed or not, and the volume that it encloses, negative where it looks inwards. */
interface Shell {
  closed: boolean;
  volume: number;
}

/** Corners that agree to this share of the longest side are one; three such numbers fit exactly into a double. */
const STEPS = 2 ** 17;
/** Less than this, in cubic metres, is a sheet and has no inside. */
const NO_VOLUME = 1e-9;

/** Solids whose faces look inwards, and surfaces that are no solids; plain sheets of glass and ground are neither. */
export function examineShells({ pieces }: Examined): { insideOut: Check; open: Check } {
  const insideOut: number[] = [];
  const open: number[] = [];
  pieces.forEach((own, row) => {
    const shells = own.map(shellOf);
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
  const ids = new Map<number, number>();
  const corner = new Int32Array(positions.length / 3);
  const step = Math.max(...boxSize(box), 1e-6) / (STEPS - 1);
  const snap = (i: number, axis: 0 | 1 | 2) => Math.round((positions[i * 3 + axis]! - box[axis]) / step);
  for (let i = 0; i < corner.length; i++) {
    const key = (snap(i, 0) * STEPS + snap(i, 1)) * STEPS + snap(i, 2);
    const known = ids.get(key) ?? ids.size;
    ids.set(key, known);
    corner[i] = known;
  }
  // Every edge of a closed surface is passed as often in one direction as in the other.
  const passes = new Map<number, number>();
  let volume = 0;
  for (let i = 0; i + 2 < indices.length; i += 3) {
    const three = [corner[indices[i]!]!, corner[indices[i + 1]!]!, corner[indices[i + 2]!]!];
    if (three[0] === three[1] || three[1] === three[2] || three[0] === three[2]) continue;
    for (let side = 0; side < 3; side++) {
      const [a, b] = [three[side]!, three[(side + 1) % 3]!];
      const key = Math.min(a, b) * ids.size + Math.max(a, b);
      passes.set(key, (passes.get(key) ?? 0) + (a < b ? 1 : -1));
    }
    volume += tetrahedron(positions, indices, i, box);
  }
  return { closed: passes.size > 0 && [...passes.values()].every((sum) => sum === 0), volume };
}

/** Signed volume between a triangle and the lower corner of the box, so that large coordinates cost no precision. */
function tetrahedron(p: Float64Array, indices: Uint32Array, at: number, box: ArrayLike<number>): number {
  const [a, b, c] = [0, 1, 2].map((corner) => {
    const from = indices[at + corner]! * 3;
    return [p[from]! - box[0]!, p[from + 1]! - box[1]!, p[from + 2]! - box[2]!];
  }) as [number[], number[], number[]];
  return (
    (a[0]! * (b[1]! * c[2]! - b[2]! * c[1]!) -
      a[1]! * (b[0]! * c[2]! - b[2]! * c[0]!) +
      a[2]! * (b[0]! * c[1]! - b[1]! * c[0]!)) /
    6
  );
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
