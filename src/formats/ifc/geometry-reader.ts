import { multiply, Y_UP_TO_Z_UP } from '@/core/math/mat4';
import type { BuildingModel, Geometry, SurfaceMaterial } from '../building-model';
import type { IfcFile } from './ifc-file';
import { readIndexedColours, type FaceColours } from './indexed-colours';
import type { Colour, SurfaceColours } from './surface-colours';
import type { PlacementColumns } from './placements';

/** A geometry of the model, with its colour where its faces have one of their own. */
interface Part {
  geometry: number;
  colour: Colour | null;
}

/**
 * Fills geometries, materials and placements of a model while its products are being built.
 */
export class GeometryReader {
  private readonly faceColours: Map<number, FaceColours>;
  private readonly parts = new Map<number, Part[]>();
  private readonly materials: MaterialPool;
  /** Express ids of products that show triangles. */
  private readonly shown = new Set<number>();

  /**
   * @param rows express id of a product -> its row
   * @param geometries by item, as far as they are there
   */
  constructor(
    private readonly file: IfcFile,
    private readonly model: BuildingModel,
    private readonly rows: ReadonlyMap<number, number>,
    private readonly surfaceColours: SurfaceColours,
    private readonly geometries: ReadonlyMap<number, Geometry>,
  ) {
    this.faceColours = readIndexedColours(file);
    this.materials = new MaterialPool(model.materials);
  }

  add({ product, item, colour, matrix }: PlacementColumns): void {
    const { model } = this;
    const matrices = new Float64Array(matrix.length);
    for (let row = 0; row < product.length; row++) {
      const id = product[row]!;
      const element = this.rows.get(id);
      if (element === undefined) continue;
      const parts = this.partsOf(item[row]!);
      if (parts.length === 0) continue;
      this.shown.add(id);
      const drawn: Colour = [colour[row * 4]!, colour[row * 4 + 1]!, colour[row * 4 + 2]!, colour[row * 4 + 3]!];
      const placed = matrices.subarray(row * 16, row * 16 + 16);
      multiply(Y_UP_TO_Z_UP, matrix.subarray(row * 16, row * 16 + 16), placed);
      for (const { geometry, colour: own } of parts)
        model.placements.push({
          element,
          geometry,
          material: this.materials.index(own ?? this.surfaceColours.of(id, item[row]!, drawn)),
          matrix: placed,
        });
    }
  }

  /**
   * Warns of products that showed no surface.
   *
   * @param shaped express ids of the products that name a representation
   * @param failures express id -> reason, of those that could not be built
   */
  warnOfMissing(shaped: readonly number[], failures: ReadonlyMap<number, string>): void {
    const { guid, name } = this.model.elements;
    for (const id of shaped) {
      if (this.shown.has(id)) continue;
      const element = this.rows.get(id)!;
      this.model.warnings.push({
        guid: guid[element]!,
        name: name[element]!,
        category: this.file.className(this.file.line(id)),
        reason:
          failures.get(id) ??
          'its representation gave no surface: it has only lines or points, or a kind of shape that the reader cannot build',
      });
    }
  }

  private partsOf(item: number): Part[] {
    let parts = this.parts.get(item);
    if (!parts) {
      parts = partsOf(this.geometries.get(item), this.model, this.faceColours.get(item));
      this.parts.set(item, parts);
    }
    return parts;
  }
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
