import { boxDiagonal } from '@/core/math/box3';
import { identity, type Mat4, type Vec3 } from '@/core/math/mat4';
import { cross, dot, subtract, unit } from '@/core/math/vec3';
import type { Piece } from './element-geometry';

/** A piece that has the shape of others, turned and moved. */
export interface Share {
  /** Pieces of one number have one shape. */
  shape: number;
  /** Rigid motion from the first piece of the shape to this one. */
  motion: Mat4;
}

/** Vertices within this distance, in metres, are in the same place. */
export const SAME_PLACE = 1e-4;
/** Shapes that are tried for one key before a piece counts as one of its own. */
const MOST_SHAPES = 8;

interface Shape {
  number: number;
  piece: Piece;
  frame: Frame;
}

/**
 * Finds pieces that are the same up to a turn and a move, however that came about: by a placement in the file, or drawn
 * out. The same are those whose triangles use their vertices in the same order, with the same colours and places in
 * pictures, and whose vertices all lie within a tenth of a millimetre after the motion.
 *
 * @returns for every piece its share; null where it is the only one of its shape
 */
export function findShares(pieces: Piece[]): (Share | null)[] {
  const shapes = new Map<string, Shape[]>();
  const uses: number[] = [];
  const shares = pieces.map((piece): Share | null => {
    const key = keyOf(piece);
    const known = shapes.get(key) ?? [];
    shapes.set(key, known);
    for (const shape of known) {
      const motion = motionBetween(shape, piece);
      if (!motion) continue;
      uses[shape.number]!++;
      return { shape: shape.number, motion };
    }
    const frame = known.length < MOST_SHAPES ? frameOf(piece, spanningVertices(piece)) : null;
    if (!frame) return null;
    const number = uses.push(1) - 1;
    known.push({ number, piece, frame });
    return { shape: number, motion: identity() };
  });
  return shares.map((share) => (share && uses[share.shape]! > 1 ? share : null));
}

/** What pieces of one shape have in common, whatever the motion: all but their positions, normals and materials. */
function keyOf({ positions, indices, colors, normals, uvs }: Piece): string {
  return [
    positions.length,
    hash(indices),
    colors ? hash(colors) : '',
    uvs ? hash(new Uint32Array(uvs.buffer, uvs.byteOffset, uvs.length)) : '',
    normals ? 'n' : '',
  ].join();
}

/** FNV-1a over whole words. */
function hash(words: Uint32Array | Uint8Array): string {
  let value = 0x811c9dc5;
  for (let i = 0; i < words.length; i++) value = Math.imul(value ^ words[i]!, 0x01000193);
  return `${words.length}:${value >>> 0}`;
}

/** Right-handed axes and origin, from three vertices. */
interface Frame {
  vertices: [number, number, number];
  origin: Vec3;
  axes: [Vec3, Vec3, Vec3];
}

/** Three vertices that lie far apart: the first, the one farthest from it, and the one farthest from the line of both. */
function spanningVertices({ positions }: Piece): [number, number, number] {
  const count = positions.length / 3;
  const at = (i: number): Vec3 => [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!];
  const first = at(0);
  let second = 0;
  let farthest = 0;
  for (let i = 1; i < count; i++) {
    const distance = size(subtract(at(i), first));
    if (distance > farthest) [second, farthest] = [i, distance];
  }
  const along = subtract(at(second), first);
  let third = 0;
  let widest = 0;
  for (let i = 1; i < count; i++) {
    const area = size(cross(along, subtract(at(i), first)));
    if (area > widest) [third, widest] = [i, area];
  }
  return [0, second, third];
}

/** Null where the three vertices lie on one line. */
function frameOf({ positions, box }: Piece, vertices: Frame['vertices']): Frame | null {
  const [a, b, c] = vertices.map((i): Vec3 => [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!]) as [
    Vec3,
    Vec3,
    Vec3,
  ];
  const x = subtract(b, a);
  const z = cross(x, subtract(c, a));
  if (size(x) < SAME_PLACE || size(z) < boxDiagonal(box) * SAME_PLACE) return null;
  const [ex, ez] = [unit(x), unit(z)];
  return { vertices, origin: a, axes: [ex, cross(ez, ex), ez] };
}

/** The rigid motion that brings all vertices of a shape to those of a piece; null if there is none. */
function motionBetween({ piece: from, frame }: Shape, to: Piece): Mat4 | null {
  const target = frameOf(to, frame.vertices);
  if (!target) return null;
  const m = identity();
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++)
      m[column * 4 + row] = [0, 1, 2].reduce((sum, k) => sum + target.axes[k]![row]! * frame.axes[k]![column]!, 0);
  for (let row = 0; row < 3; row++)
    m[12 + row] =
      target.origin[row]! - (m[row]! * frame.origin[0] + m[4 + row]! * frame.origin[1] + m[8 + row]! * frame.origin[2]);
  const [p, q] = [from.positions, to.positions];
  for (let i = 0; i < p.length; i += 3) {
    const [x, y, z] = [p[i]!, p[i + 1]!, p[i + 2]!];
    const dx = m[0]! * x + m[4]! * y + m[8]! * z + m[12]! - q[i]!;
    const dy = m[1]! * x + m[5]! * y + m[9]! * z + m[13]! - q[i + 1]!;
    const dz = m[2]! * x + m[6]! * y + m[10]! * z + m[14]! - q[i + 2]!;
    if (dx * dx + dy * dy + dz * dz > SAME_PLACE * SAME_PLACE) return null;
  }
  return m;
}

function size(a: Vec3): number {
  return Math.sqrt(dot(a, a));
}
