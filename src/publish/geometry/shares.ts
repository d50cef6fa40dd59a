import { boxDiagonal } from '@/core/math/box3';
import { identity, invertAffine, multiply, type Mat4, type Vec3 } from '@/core/math/mat4';
import { cross, dot, subtract, unit } from '@/core/math/vec3';
import { hashWords } from '@/core/mesh/hash-words';
import type { Origins, Piece } from './element-geometry';

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
/** A map counts as rigid while its axes differ from upright ones of length one by less: a hundredth of a millimetre at a kilometre. */
const RIGID = 1e-8;
/** Metres; shapes whose sizes differ by more than this are not compared. */
const SIZE_STEP = 0.004;
const IDENTITY = identity();

/** Matrices one after the other in one piece of memory: each by itself would take four times as much. */
class MatrixRoom {
  private readonly numbers: Float64Array;
  private kept = 0;
  /** To be filled. */
  next: Mat4;

  constructor(matrices: number) {
    this.numbers = new Float64Array((matrices + 1) * 16);
    this.next = this.numbers.subarray(0, 16);
  }

  /** Keeps the next one, and begins another. */
  keep(): Mat4 {
    const kept = this.next;
    this.next = this.numbers.subarray(++this.kept * 16, this.kept * 16 + 16);
    return kept;
  }
}

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
 * @param origins where the pieces come from, if that is known: of one geometry, only the first is compared with others
 * @returns for every piece its share; null where it is the only one of its shape
 */
export function findShares(pieces: Piece[], origins: Origins | null = null): (Share | null)[] {
  const shapes = new Map<string, Shape[]>();
  const hashes = new WeakMap<Uint32Array | Uint8Array, string>();
  const uses: number[] = [];
  const motions = new MatrixRoom(pieces.length);
  const compared = (piece: Piece): Share | null => {
    const key = keyOf(piece, hashes);
    const size = sizeOf(piece) / SIZE_STEP;
    const own = `${key}/${Math.floor(size)}`;
    // Of a size near the end of a step, the like may be in the next.
    const slack = (4 * SAME_PLACE) / SIZE_STEP;
    for (const bucket of new Set([own, `${key}/${Math.floor(size - slack)}`, `${key}/${Math.floor(size + slack)}`]))
      for (const shape of shapes.get(bucket) ?? []) {
        if (!motionBetween(shape, piece, motions.next)) continue;
        uses[shape.number]!++;
        return { shape: shape.number, motion: motions.keep() };
      }
    const known = shapes.get(own) ?? [];
    const frame = known.length < MOST_SHAPES ? frameOf(piece, spanningVertices(piece)) : null;
    if (!frame) return null;
    const number = uses.push(1) - 1;
    known.push({ number, piece, frame });
    shapes.set(own, known);
    motions.next.set(IDENTITY);
    return { shape: number, motion: motions.keep() };
  };
  const casts = new Map<number, Cast>();
  const shares = pieces.map((piece, i): Share | null => {
    if (!origins) return compared(piece);
    const geometry = origins.geometry[i]!;
    const matrix = origins.matrices.subarray(i * 16, i * 16 + 16);
    const cast = casts.get(geometry);
    if (cast?.back && isAlike(cast.piece, piece) && isRigid(multiply(matrix, cast.back, motions.next))) {
      uses[cast.shape]!++;
      return { shape: cast.shape, motion: motions.keep() };
    }
    const share = compared(piece);
    if (share && !cast) casts.set(geometry, castOf(piece, matrix, share));
    return share;
  });
  return shares.map((share) => (share && uses[share.shape]! > 1 ? share : null));
}

/** The first piece of a geometry. */
interface Cast {
  piece: Piece;
  shape: number;
  /** From the shape's first piece back to the geometry as it was before it was placed; null where there is no way back. */
  back: Mat4 | null;
}

function castOf(piece: Piece, matrix: Mat4, { shape, motion }: Share): Cast {
  const inverse = invertAffine(matrix);
  return { piece, shape, back: inverse && multiply(inverse, motion) };
}

/** Whether two pieces of one geometry differ by no more than by where they stand, and by their material. */
function isAlike(a: Piece, b: Piece): boolean {
  return a.indices === b.indices && a.colors === b.colors && a.uvs === b.uvs;
}

/** Whether a map turns and moves, and does nothing else. */
function isRigid(m: Mat4): boolean {
  for (let i = 0; i < 12; i += 4)
    for (let j = i; j < 12; j += 4) {
      const product = m[i]! * m[j]! + m[i + 1]! * m[j + 1]! + m[i + 2]! * m[j + 2]!;
      if (!(Math.abs(product - (i === j ? 1 : 0)) < RIGID)) return false;
    }
  return true;
}

/**
 * What pieces of one shape have in common, whatever the motion: all but their positions, normals and materials.
 *
 * @param hashes of triangles and colours that other pieces had too
 */
function keyOf(
  { positions, indices, colors, normals, uvs }: Piece,
  hashes: WeakMap<Uint32Array | Uint8Array, string>,
): string {
  const hashOnce = (words: Uint32Array | Uint8Array) => {
    let known = hashes.get(words);
    if (known === undefined) hashes.set(words, (known = hash(words)));
    return known;
  };
  return [
    positions.length,
    hashOnce(indices),
    colors ? hashOnce(colors) : '',
    uvs ? hash(new Uint32Array(uvs.buffer, uvs.byteOffset, uvs.length)) : '',
    normals ? 'n' : '',
  ].join();
}

/** Metres from the first vertex to the middle one and to the last, together: the same whatever the motion. */
function sizeOf({ positions: p }: Piece): number {
  const last = p.length / 3 - 1;
  if (last < 0) return 0;
  return [last, last >> 1].reduce(
    (sum, i) => sum + Math.hypot(p[i * 3]! - p[0]!, p[i * 3 + 1]! - p[1]!, p[i * 3 + 2]! - p[2]!),
    0,
  );
}

function hash(words: Uint32Array | Uint8Array): string {
  return `${words.length}:${hashWords(words)}`;
}

/** Right-handed axes and origin, from three vertices. */
interface Frame {
  vertices: [number, number, number];
  /** Distances of the three from each other. */
  sides: Vec3;
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

/** Null where the three vertices lie on one line, or are not as far from each other as those of another frame. */
function frameOf({ positions, box }: Piece, vertices: Frame['vertices'], like?: Frame): Frame | null {
  const [a, b, c] = vertices.map((i): Vec3 => [positions[i * 3]!, positions[i * 3 + 1]!, positions[i * 3 + 2]!]) as [
    Vec3,
    Vec3,
    Vec3,
  ];
  const sides: Vec3 = [distance(a, b), distance(a, c), distance(b, c)];
  if (like?.sides.some((side, i) => Math.abs(side - sides[i]!) > 2 * SAME_PLACE)) return null;
  const x = subtract(b, a);
  const z = cross(x, subtract(c, a));
  if (size(x) < SAME_PLACE || size(z) < boxDiagonal(box) * SAME_PLACE) return null;
  const [ex, ez] = [unit(x), unit(z)];
  return { vertices, sides, origin: a, axes: [ex, cross(ez, ex), ez] };
}

/** Fills in the rigid motion that brings all vertices of a shape to those of a piece; false if there is none. */
function motionBetween({ piece: from, frame }: Shape, to: Piece, m: Mat4): boolean {
  const target = frameOf(to, frame.vertices, frame);
  if (!target) return false;
  m[15] = 1;

  const [a, b, c] = target.axes;
  const [d, e, f] = frame.axes;
  for (let row = 0; row < 3; row++)
    for (let column = 0; column < 3; column++)
      m[column * 4 + row] = a[row]! * d[column]! + b[row]! * e[column]! + c[row]! * f[column]!;
  for (let row = 0; row < 3; row++)
    m[12 + row] =
      target.origin[row]! - (m[row]! * frame.origin[0] + m[4 + row]! * frame.origin[1] + m[8 + row]! * frame.origin[2]);
  const [p, q] = [from.positions, to.positions];
  for (let i = 0; i < p.length; i += 3) {
    const x = p[i]!;
    const y = p[i + 1]!;
    const z = p[i + 2]!;
    const dx = m[0]! * x + m[4]! * y + m[8]! * z + m[12]! - q[i]!;
    const dy = m[1]! * x + m[5]! * y + m[9]! * z + m[13]! - q[i + 1]!;
    const dz = m[2]! * x + m[6]! * y + m[10]! * z + m[14]! - q[i + 2]!;
    if (dx * dx + dy * dy + dz * dz > SAME_PLACE * SAME_PLACE) return false;
  }
  return true;
}

function distance(a: Vec3, b: Vec3): number {
  return size(subtract(a, b));
}

function size(a: Vec3): number {
  return Math.sqrt(dot(a, a));
}
