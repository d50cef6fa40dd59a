import { whereTest } from '@/core/elements/meets';
import { colorParts, materialAsked, type SurfaceChange, type SurfaceRule } from '@/core/surfaces/surface-rule';
import { describedElements } from '../described-elements';
import type { BuildingModel, Geometry, Placement, SurfaceMaterial } from '@/formats/building-model';

/**
 * Gives surfaces the colours and materials that rules ask for. A rule by material also finds single surfaces of an
 * element whose file names their material; all other rules change an element as a whole.
 *
 * @returns another model that shares what is not changed, and what each rule did; the model that was given stays
 */
export function changeSurfaces(
  model: BuildingModel,
  rules: SurfaceRule[],
): { model: BuildingModel; changes: SurfaceChange[] } {
  if (rules.length === 0) return { model, changes: [] };
  const { elements } = model;
  const subjects = describedElements(model);
  const touched = rules.map(() => new Set<number>());
  const wholeBy = new Map<number, number>();
  const material = [...elements.material];
  rules.forEach((rule, r) => {
    const fits = whereTest(rule.of);
    subjects.forEach((subject, row) => {
      if (!fits(subject)) return;
      touched[r]!.add(row);
      if (rule.color !== null) wholeBy.set(row, r);
      if (rule.material !== null) material[row] = rule.material;
    });
  });

  const paint = new Paint(model);
  const placements = model.placements.map((placement): Placement => {
    const named = model.materials[placement.material]!.name;
    let by = wholeBy.get(placement.element) ?? -1;
    rules.forEach((rule, r) => {
      if (materialAsked(rule) !== named) return;
      touched[r]!.add(placement.element);
      if (rule.color !== null) by = Math.max(by, r);
    });
    return by < 0 ? placement : paint.painted(placement, rules[by]!);
  });
  return {
    model: {
      ...model,
      elements: { ...elements, material },
      placements,
      materials: paint.materials,
      geometries: paint.geometries,
    },
    changes: rules.map((rule, r) => ({ rule, elements: touched[r]!.size })),
  };
}

/** New materials, and geometries without the colours and places in a picture that the file gave them. */
class Paint {
  readonly materials: SurfaceMaterial[];
  readonly geometries: Geometry[];
  private readonly materialOf = new Map<SurfaceRule, number>();
  private readonly plainOf = new Map<number, number>();

  constructor(model: BuildingModel) {
    this.materials = [...model.materials];
    this.geometries = [...model.geometries];
  }

  painted(placement: Placement, rule: SurfaceRule): Placement {
    let material = this.materialOf.get(rule);
    if (material === undefined) {
      const color: SurfaceMaterial['color'] = [...colorParts(rule.color!), rule.opacity];
      material = this.materials.push({ name: rule.material ?? rule.label, color }) - 1;
      this.materialOf.set(rule, material);
    }
    return { ...placement, material, geometry: this.plain(placement.geometry) };
  }

  private plain(geometry: number): number {
    const { colors, uvs, ...rest } = this.geometries[geometry]!;
    if (!colors && !uvs) return geometry;
    let plain = this.plainOf.get(geometry);
    if (plain === undefined) {
      plain = this.geometries.push(rest) - 1;
      this.plainOf.set(geometry, plain);
    }
    return plain;
  }
}
