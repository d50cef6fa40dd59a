import { emptyBox, expandByBox, expandByPoint, isEmptyBox, boxCentre, type Box3 } from '@/core/math/box3';
import { determinant3, type Vec3 } from '@/core/math/mat4';
import type { BuildingModel } from '@/formats/building-model';

/** Triangles of one placement in the revision's frame: metres, Z up, relative to the offset. */
export interface Piece {
  element: number;
  material: number;
  /** Three numbers a vertex, double precision. */
  positions: Float64Array;
  indices: Uint32Array;
  /** sRGB and opacity a vertex; null where the material's colour holds. */
  colors: Uint8Array | null;
  /** Unit normals a vertex in steps of 1/127; zeros where a surface is flat; null where nothing is known about them. */
  normals: Int8Array | null;
  /** Places in the material's picture, two numbers a vertex; null where there is no picture. */
  uvs: Float32Array | null;
  box: Box3;
}

export interface PlacedGeometry {
  pieces: Piece[];
  /** Where the pieces come from, as long as none was changed. */
  origins: Origins | null;
  /** Added to a revision coordinate it gives the model coordinate. Whole metres; zero for a model near its origin. */
  offset: Vec3;
  /** Extent of all pieces, relative to the offset. */
  extent: Box3;
  /** Six numbers an element; minimum above maximum where an element has no geometry. */
  elementBoxes: Float64Array;
}

/** By piece: the geometry that was placed, by its number, and how. */
export interface Origins {
  geometry: Int32Array;
  /** Sixteen numbers a piece: an affine map into the revision's frame. */
  matrices: Float64Array;
}

/** A model whose centre is nearer than this to its origin keeps its coordinates. */
const FAR_FROM_ORIGIN = 2000;

/** Puts every placement into model coordinates and moves a far model near zero. Mirrored placements keep their outside. */
export function placeGeometry(model: BuildingModel): PlacedGeometry {
  const room = new SharedRoom(
    model.placements.reduce((sum, { geometry }) => sum + model.geometries[geometry]!.positions.length, 0),
  );
  const pieces = model.placements.map((placement): Piece => {
    const { positions, indices, colors, normals, uvs } = model.geometries[placement.geometry]!;
    const m = placement.matrix;
    const out = room.take(positions.length);
    const box = movePositions(positions, m, out);
    return {
      element: placement.element,
      material: placement.material,
      positions: out,
      indices: determinant3(m) < 0 ? flipped(indices) : indices,
      colors: colors ?? null,
      normals: normals ? turned(normals, m) : null,
      uvs: (model.materials[placement.material]!.texture !== undefined && uvs) || null,
      box,
    };
  });

  const whole = emptyBox();
  for (const piece of pieces) expandByBox(whole, piece.box);
  const offset = chooseOffset(whole);
  if (offset.some((part) => part !== 0)) for (const piece of pieces) shift(piece, offset);

  return { ...collect(pieces, offset, model.elements.guid.length), origins: originsOf(model, offset) };
}

function originsOf({ placements }: BuildingModel, offset: Vec3): Origins {
  const geometry = new Int32Array(placements.length);
  const matrices = new Float64Array(placements.length * 16);
  placements.forEach((placement, i) => {
    geometry[i] = placement.geometry;
    matrices.set(placement.matrix, i * 16);
    for (let axis = 0; axis < 3; axis++) matrices[i * 16 + 12 + axis]! -= offset[axis]!;
  });
  return { geometry, matrices };
}

/**
 * Positions under an affine map.
 *
 * @param out as many numbers, for the result
 * @returns the box of the result
 */
export function movePositions(positions: ArrayLike<number>, m: ArrayLike<number>, out: Float64Array): Box3 {
  const box = emptyBox();
  for (let i = 0; i < positions.length; i += 3) {
    const x = positions[i]!;
    const y = positions[i + 1]!;
    const z = positions[i + 2]!;
    const wx = m[0]! * x + m[4]! * y + m[8]! * z + m[12]!;
    const wy = m[1]! * x + m[5]! * y + m[9]! * z + m[13]!;
    const wz = m[2]! * x + m[6]! * y + m[10]! * z + m[14]!;
    out[i] = wx;
    out[i + 1] = wy;
    out[i + 2] = wz;
    expandByPoint(box, wx, wy, wz);
  }
  return box;
}

/**
 * Pieces with the extent of the whole and of every element.
 *
 * @param offset what was taken from the pieces' coordinates
 * @param elements how many there are, with and without pieces
 */
export function collect(pieces: Piece[], offset: Vec3, elements: number): PlacedGeometry {
  const extent = emptyBox();
  const elementBoxes = new Float64Array(elements * 6);
  for (let i = 0; i < elementBoxes.length; i++) elementBoxes[i] = i % 6 < 3 ? Infinity : -Infinity;
  for (const { box, element } of pieces) {
    expandByBox(extent, box);
    for (let axis = 0; axis < 3; axis++) {
      const at = element * 6 + axis;
      elementBoxes[at] = Math.min(elementBoxes[at]!, box[axis]!);
      elementBoxes[at + 3] = Math.max(elementBoxes[at + 3]!, box[axis + 3]!);
    }
  }
  return { pieces, origins: null, offset, extent, elementBoxes };
}

/** Coordinates of all pieces one after the other, in memory that threads share. */
class SharedRoom {
  private readonly buffer: SharedArrayBuffer;
  private used = 0;

  constructor(numbers: number) {
    this.buffer = new SharedArrayBuffer(numbers * Float64Array.BYTES_PER_ELEMENT);
  }

  take(numbers: number): Float64Array {
    const taken = new Float64Array(this.buffer, this.used, numbers);
    this.used += taken.byteLength;
    return taken;
  }
}

function chooseOffset(box: Box3): Vec3 {
  if (isEmptyBox(box)) return [0, 0, 0];
  const centre = boxCentre(box);
  return Math.hypot(...centre) < FAR_FROM_ORIGIN ? [0, 0, 0] : (centre.map(Math.round) as Vec3);
}

function shift(piece: Piece, offset: Vec3): void {
  for (let i = 0; i < piece.positions.length; i++) piece.positions[i]! -= offset[i % 3]!;
  for (let i = 0; i < 6; i++) piece.box[i]! -= offset[i % 3]!;
}

/** The same triangles seen from the other side. */
export function flipped(indices: Uint32Array): Uint32Array {
  const out = indices.slice();
  for (let i = 0; i + 2 < out.length; i += 3) [out[i + 1], out[i + 2]] = [out[i + 2]!, out[i + 1]!];
  return out;
}

/** Normals under an affine map: its matrix of cofactors, so that they stay upright to their surfaces; mirrored ones too. */
function turned(normals: Float32Array, m: Float64Array): Int8Array {
  const side = determinant3(m) < 0 ? -1 : 1;
  const cofactors = [0, 1, 2].map((column) =>
    [0, 1, 2].map((row) => {
      const [c1, c2, r1, r2] = [(column + 1) % 3, (column + 2) % 3, (row + 1) % 3, (row + 2) % 3];
      return side * (m[c1 * 4 + r1]! * m[c2 * 4 + r2]! - m[c2 * 4 + r1]! * m[c1 * 4 + r2]!);
    }),
  );
  const out = new Int8Array(normals.length);
  for (let i = 0; i < normals.length; i += 3) {
    const turnedTo = [0, 1, 2].map(
      (row) =>
        cofactors[0]![row]! * normals[i]! +
        cofactors[1]![row]! * normals[i + 1]! +
        cofactors[2]![row]! * normals[i + 2]!,
    );
    const length = Math.hypot(...turnedTo) || 1;
    for (let axis = 0; axis < 3; axis++) out[i + axis] = Math.round((turnedTo[axis]! / length) * 127);
  }
  return out;
}
