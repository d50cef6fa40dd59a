import { emptyElementTable, type BuildingModel } from '@/formats/building-model';

/** A building model for tests: one mesh, once for each placement, an element each. */
export function meshModel(
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
  placements: number[][],
): BuildingModel {
  const elements = emptyElementTable();
  placements.forEach((_, i) => elements.guid.push(`guid-${i}`));
  placements.forEach((_, i) => elements.name.push(`Element ${i}`));
  placements.forEach(() => elements.category.push('Wall'));
  return {
    source: { format: 'glTF', schema: '2.0', fileName: 'x', program: '' },
    frame: { metresPerUnit: 1, up: 'Z', from: 'file', reason: '' },
    elements,
    geometries: [{ positions: Float32Array.from(positions), indices: Uint32Array.from(indices) }],
    materials: [{ name: '', color: [1, 0.5, 0, 1] }],
    textures: [],
    placements: placements.map((matrix, element) => ({
      element,
      geometry: 0,
      material: 0,
      matrix: Float64Array.from(matrix),
    })),
    properties: placements.map(() => ({})),
    storeys: [],
    georeference: null,
    cameras: [],
    warnings: [],
    leftOut: [],
    productsWithShape: placements.length,
  };
}

/** A 4x4 matrix, column by column, that moves by so many metres. */
export function moved(x: number, y: number, z: number): number[] {
  return [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, x, y, z, 1];
}

/** A square of one metre in the XY plane. */
export const SQUARE = { positions: [0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0], indices: [0, 1, 2, 0, 2, 3] };

/** A flat field of n x n squares, each `side` metres, two triangles a square. */
export function field(n: number, side: number) {
  const positions: number[] = [];
  const indices: number[] = [];
  for (let y = 0; y <= n; y++) for (let x = 0; x <= n; x++) positions.push(x * side, y * side, 0);
  for (let y = 0; y < n; y++) {
    for (let x = 0; x < n; x++) {
      const a = y * (n + 1) + x;
      indices.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1);
    }
  }
  return { positions, indices };
}
