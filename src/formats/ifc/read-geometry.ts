import { multiply, Y_UP_TO_Z_UP } from '@/core/math/mat4';
import type { BuildingModel, Geometry, SurfaceMaterial } from '../building-model';
import type { IfcFile } from './ifc-file';
import { readIndexedColours, type FaceColours } from './indexed-colours';
import type { Colour, SurfaceColours } from './surface-colours';
import type { BuiltShapes } from './shapes';

/** A geometry of the model, with its colour where its faces have one of their own. */
interface Part {
  geometry: number;
  colour: Colour | null;
}

/**
 * Fills geometries, materials and placements of the model, in the order of the products. Products that give no surface
 * are added to its warnings.
 *
 * @param rows express id of a product -> its row
 * @param shaped express ids of the products that name a representation
 * @param built of all of these
 */
export function readGeometry(
  file: IfcFile,
  model: BuildingModel,
  rows: Map<number, number>,
  shaped: number[],
  surfaceColours: SurfaceColours,
  built: BuiltShapes,
): void {
  const faceColours = readIndexedColours(file);
  const { placements, failures, geometries } = built;
  const parts = new Map<number, Part[]>();
  const materials = new MaterialPool(model.materials);
  const rowsOf = rowsByProduct(placements.product);
  for (const id of shaped) {
    const element = rows.get(id)!;
    let hasTriangles = false;
    for (const row of rowsOf.get(id) ?? []) {
      const item = placements.item[row]!;
      let itemParts = parts.get(item);
      if (!itemParts) {
        itemParts = partsOf(geometries.get(item), model, faceColours.get(item));
        parts.set(item, itemParts);
      }
      if (itemParts.length === 0) continue;
      hasTriangles = true;
      const drawn = placements.colour.subarray(row * 4, row * 4 + 4);
      const matrix = multiply(Y_UP_TO_Z_UP, placements.matrix.subarray(row * 16, row * 16 + 16));
      for (const { geometry, colour } of itemParts)
        model.placements.push({
          element,
          geometry,
          material: materials.index(
            colour ?? surfaceColours.of(id, item, [drawn[0]!, drawn[1]!, drawn[2]!, drawn[3]!]),
          ),
          matrix,
        });
    }
    if (hasTriangles) continue;
    model.warnings.push({
      guid: model.elements.guid[element]!,
      name: model.elements.name[element]!,
      category: file.className(file.line(id)),
      reason:
        failures.get(id) ??
        'its representation gave no surface: it has only lines or points, or a kind of shape that the reader cannot build',
    });
  }
}

function rowsByProduct(products: Uint32Array): Map<number, number[]> {
  const rows = new Map<number, number[]>();
  products.forEach((product, row) => {
    const known = rows.get(product);
    if (known) known.push(row);
    else rows.set(product, [row]);
  });
  return rows;
}

/** Adds an item's triangles to the model, in as many parts as its faces have colours. */
function partsOf(geometry: Geometry | undefined, model: BuildingModel, faceColours: FaceColours | undefined): Part[] {
  if (!geometry) return [];
  // Where the library left out triangles, faces and colours cannot be matched any more.
  const matched = faceColours?.ofTriangle.length === geometry.indices.length / 3;
  if (!faceColours || !matched) return [{ geometry: model.geometries.push(geometry) - 1, colour: null }];
  return faceColours.colours.flatMap((colour, c) => {
    const indices = geometry.indices.filter((_, i) => faceColours.ofTriangle[Math.floor(i / 3)] === c);
    if (indices.length === 0) return [];
    return [{ geometry: model.geometries.push({ positions: geometry.positions, indices }) - 1, colour }];
  });
}

/** Surface colours, each distinct one once. */
class MaterialPool {
  private readonly seen = new Map<string, number>();

  constructor(private readonly materials: SurfaceMaterial[]) {}

  index(color: Colour): number {
    const key = color.map((part) => Math.round(part * 255)).join();
    let index = this.seen.get(key);
    if (index === undefined) {
      index = this.materials.push({ name: `Colour ${this.materials.length + 1}`, color }) - 1;
      this.seen.set(key, index);
    }
    return index;
  }
}
