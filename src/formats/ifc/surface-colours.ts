import {
  IFCMATERIALCONSTITUENTSET,
  IFCMATERIALDEFINITIONREPRESENTATION,
  IFCSHAPEASPECT,
  IFCSTYLEDITEM,
} from './class-codes';
import { numeric, reference, references, text, type IfcLine } from './ifc-line';
import type { IfcFile } from './ifc-file';
import type { MaterialDefinitions } from './materials';
import type { IfcRelations } from './relations';

/** sRGB and opacity, each 0..1. */
export type Colour = [number, number, number, number];

/**
 * Colours that the reader library does not find by itself. It knows the styles of items and of an element's own material;
 * the rest is looked up here: the material of the element's type, of the whole that it is a part of, and, where a
 * material is a set of constituents (frame, glass), the constituent whose shape aspect names the item.
 */
export class SurfaceColours {
  /** Material -> its colour. */
  private readonly ofMaterial = new Map<number, Colour>();
  /** Representation items that have a style of their own. */
  private readonly styled = new Set<number>();
  /** Representation item -> name of the shape aspect that it belongs to. */
  private readonly aspect = new Map<number, string>();

  constructor(
    private readonly file: IfcFile,
    private readonly relations: IfcRelations,
    private readonly materials: MaterialDefinitions,
  ) {
    for (const line of file.linesOfType(IFCSTYLEDITEM)) {
      const item = reference(line, 'Item');
      if (item !== null) this.styled.add(item);
    }
    for (const line of file.linesOfType(IFCMATERIALDEFINITIONREPRESENTATION)) {
      const material = reference(line, 'RepresentedMaterial');
      const colour = this.firstColour(line, ['Representations', 'Items', 'Styles', 'Styles'], 0);
      if (material !== null && colour) this.ofMaterial.set(material, colour);
    }
    for (const line of file.linesOfType(IFCSHAPEASPECT)) {
      for (const shape of references(line, 'ShapeRepresentations'))
        for (const item of references(file.line(shape), 'Items')) this.aspect.set(item, text(line, 'Name'));
    }
  }

  /**
   * @param product express id of the element
   * @param item express id of the representation item
   * @param drawn what the library found; plain opaque white where it found nothing
   */
  of(product: number, item: number, drawn: Colour): Colour {
    if (this.ofMaterial.size === 0) return drawn;
    if (!this.styled.has(item)) {
      const constituent = this.ofConstituent(product, item);
      if (constituent) return constituent;
    }
    return drawn.every((part) => part === 1) ? (this.inherited(product) ?? drawn) : drawn;
  }

  private ofConstituent(product: number, item: number): Colour | null {
    const aspect = this.aspect.get(item);
    const definition = this.definitionOf(product);
    if (aspect === undefined || definition === null) return null;
    const set = this.file.line(definition);
    if (set.type !== IFCMATERIALCONSTITUENTSET) return null;
    for (const id of references(set, 'MaterialConstituents')) {
      const constituent = this.file.line(id);
      if (text(constituent, 'Name') !== aspect) continue;
      return this.ofMaterial.get(reference(constituent, 'Material') ?? -1) ?? null;
    }
    return null;
  }

  /** The colour of the nearest material: the element's, its type's, or that of the whole above it. */
  private inherited(product: number): Colour | null {
    let at: number | undefined = product;
    for (let steps = 0; at !== undefined && steps < 8; steps++) {
      const definition = this.definitionOf(at);
      for (const material of definition === null ? [] : this.materials.single(definition)) {
        const colour = this.ofMaterial.get(material);
        if (colour) return colour;
      }
      at = this.relations.whole.get(at);
    }
    return null;
  }

  private definitionOf(product: number): number | null {
    const { material, type } = this.relations;
    return material.get(product) ?? material.get(type.get(product) ?? -1) ?? null;
  }

  /** Walks down the named attributes, however many levels there are, to the first surface style with a colour. */
  private firstColour(line: IfcLine, path: string[], depth: number): Colour | null {
    const found = this.shading(line);
    if (found || depth > 6) return found;
    for (const attribute of new Set(path)) {
      for (const id of references(line, attribute)) {
        const colour = this.firstColour(this.file.line(id), path, depth + 1);
        if (colour) return colour;
      }
    }
    return null;
  }

  /** The colour of an IfcSurfaceStyleShading or -Rendering; null for any other line. */
  private shading(line: IfcLine): Colour | null {
    const surface = reference(line, 'SurfaceColour');
    if (surface === null) return null;
    const [red, green, blue] = ['Red', 'Green', 'Blue'].map(
      (channel) => numeric(this.file.line(surface), channel) ?? 1,
    );
    return [red!, green!, blue!, 1 - (numeric(line, 'Transparency') ?? 0)];
  }
}
