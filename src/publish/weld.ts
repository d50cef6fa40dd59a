import type { SurfaceMaterial } from '@/formats/building-model';
import type { Piece } from './element-geometry';

/** Merged, quantised triangles of one tile and one way of drawing (opaque or see-through). */
export interface TileMesh {
  /** uint16 steps, three a vertex, in glTF's Y-up frame. */
  positions: Uint16Array;
  /** Element index a vertex. */
  features: Uint32Array;
  /** Linear RGBA as uint16 a vertex. */
  colors: Uint16Array;
  indices: Uint32Array;
}

export interface Grid {
  /** Lower corner of the tile in the revision's frame, metres, Z up. */
  origin: [number, number, number];
  /** Metres a step, the same in all directions so that distances stay true. */
  step: number;
}

/**
 * Merges pieces into one indexed mesh: positions snapped to the grid, vertices that agree in position, element and
 * colour welded, triangles without area dropped. The frame turns from Z up to glTF's Y up: (x, y, z) -> (x, z, -y).
 *
 * @param opaque which materials to take: those with full opacity, or the others
 * @returns null if no triangle is left
 */
export function weldPieces(
  pieces: Piece[],
  materials: SurfaceMaterial[],
  grid: Grid,
  maxStep: number,
  opaque: boolean,
): TileMesh | null {
  const taken = pieces.filter((piece) => isOpaque(piece, materials) === opaque);
  const corners = taken.reduce((sum, piece) => sum + piece.indices.length, 0);
  if (corners === 0) return null;

  const indices = new Uint32Array(corners);
  const positions = new Uint16Array(corners * 3);
  const features = new Uint32Array(corners);
  const paint = new Uint32Array(corners);
  let slots = 1024;
  while (slots < corners * 2) slots *= 2;
  const table = new Int32Array(slots).fill(-1);
  let vertexCount = 0;
  let indexCount = 0;

  const vertex = (x: number, y: number, z: number, element: number, color: number): number => {
    let hash =
      Math.imul(x, 73856093) ^
      Math.imul(y, 19349663) ^
      Math.imul(z, 83492791) ^
      Math.imul(element, 2654435761) ^
      Math.imul(color, 40503);
    hash ^= hash >>> 15;
    for (let slot = hash & (slots - 1); ; slot = (slot + 1) & (slots - 1)) {
      const found = table[slot]!;
      if (found < 0) {
        table[slot] = vertexCount;
        positions[vertexCount * 3] = x;
        positions[vertexCount * 3 + 1] = y;
        positions[vertexCount * 3 + 2] = z;
        features[vertexCount] = element;
        paint[vertexCount] = color;
        return vertexCount++;
      }
      if (
        positions[found * 3] === x &&
        positions[found * 3 + 1] === y &&
        positions[found * 3 + 2] === z &&
        features[found] === element &&
        paint[found] === color
      )
        return found;
    }
  };

  const [ox, oy, oz] = grid.origin;
  const snap = (value: number) => Math.min(maxStep, Math.max(0, Math.round(value / grid.step)));
  for (const piece of taken) {
    const { positions: p, colors: own } = piece;
    const all = packColour(materials[piece.material]!.color);
    const corner = [0, 0, 0];
    for (let i = 0; i + 2 < piece.indices.length; i += 3) {
      for (let c = 0; c < 3; c++) {
        const from = piece.indices[i + c]!;
        const at = from * 3;
        // Y up, with -y measured from the grid's far side so that all steps are positive.
        corner[c] = vertex(
          snap(p[at]! - ox),
          snap(p[at + 2]! - oz),
          maxStep - snap(p[at + 1]! - oy),
          piece.element,
          own ? packBytes(own, from * 4) : all,
        );
      }
      if (corner[0] === corner[1] || corner[1] === corner[2] || corner[0] === corner[2]) continue;
      indices.set(corner, indexCount);
      indexCount += 3;
    }
  }
  if (indexCount === 0) return null;

  const colors = new Uint16Array(vertexCount * 4);
  for (let i = 0; i < vertexCount; i++)
    for (let channel = 0; channel < 4; channel++) {
      const value = (paint[i]! >>> (channel * 8)) & 255;
      colors[i * 4 + channel] = channel === 3 ? value * 257 : LINEAR[value]!;
    }
  return {
    positions: positions.slice(0, vertexCount * 3),
    features: features.slice(0, vertexCount),
    colors,
    indices: indices.slice(0, indexCount),
  };
}

function isOpaque({ colors, material }: Piece, materials: SurfaceMaterial[]): boolean {
  if (!colors) return materials[material]!.color[3] >= 0.999;
  for (let alpha = 3; alpha < colors.length; alpha += 4) if (colors[alpha]! < 255) return false;
  return true;
}

/** A colour of parts 0..1 as four bytes in one number, red lowest. */
function packColour(color: SurfaceMaterial['color']): number {
  return packBytes(
    color.map((part) => Math.round(part * 255)),
    0,
  );
}

function packBytes(bytes: ArrayLike<number>, at: number): number {
  return (bytes[at]! | (bytes[at + 1]! << 8) | (bytes[at + 2]! << 16) | (bytes[at + 3]! << 24)) >>> 0;
}

/** sRGB to linear transfer function, IEC 61966-2-1. */
function toLinear(srgb: number): number {
  return srgb <= 0.04045 ? srgb / 12.92 : ((srgb + 0.055) / 1.055) ** 2.4;
}

/** Linear values as uint16 of the 256 steps of sRGB. */
const LINEAR = Uint16Array.from({ length: 256 }, (_, step) => Math.round(toLinear(step / 255) * 65535));
