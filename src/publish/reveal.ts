import { revealTest, type RevealRule } from '@/core/reveal/reveal-rule';
import type { BuildingModel } from '@/formats/building-model';

export interface Revealed {
  model: BuildingModel;
  /** Elements that stay back. */
  withheld: number;
  /** Categories that the rule has not seen; they stay back too. */
  newCategories: string[];
}

/**
 * The part of a model that a rule reveals. Elements keep their guids, storeys and places; a part whose whole is withheld
 * stands alone. The model that was given is not changed.
 */
export function reveal(model: BuildingModel, rule: RevealRule): Revealed {
  const { elements, storeys } = model;
  const isRevealed = revealTest(rule);
  const rowOf = new Int32Array(elements.guid.length).fill(-1);
  const kept: number[] = [];
  elements.guid.forEach((guid, row) => {
    const shown = isRevealed({
      guid,
      category: elements.category[row]!,
      storey: storeys[elements.storey[row]!]?.name ?? '',
      system: elements.system[row]!,
      material: elements.material[row]!,
      discipline: elements.discipline[row]!,
    });
    if (shown) rowOf[row] = kept.push(row) - 1;
  });
  const pick = <T>(column: T[]): T[] => kept.map((row) => column[row]!);
  const guids = new Set(pick(elements.guid));
  const shaped = new Set(model.placements.map((placement) => placement.element));
  const part: BuildingModel = {
    ...model,
    elements: {
      guid: pick(elements.guid),
      name: pick(elements.name),
      category: pick(elements.category),
      storey: pick(elements.storey),
      system: pick(elements.system),
      room: pick(elements.room),
      material: pick(elements.material),
      discipline: pick(elements.discipline),
      parent: pick(elements.parent).map((parent) => (parent < 0 ? -1 : rowOf[parent]!)),
    },
    placements: model.placements.flatMap((placement) => {
      const element = rowOf[placement.element]!;
      return element < 0 ? [] : [{ ...placement, element }];
    }),
    properties: pick(model.properties),
    warnings: model.warnings.filter((warning) => warning.guid === undefined || guids.has(warning.guid)),
  };
  const hidden = [...shaped].filter((row) => rowOf[row]! < 0).length;
  const silent = model.warnings.filter((warning) => warning.guid !== undefined && !guids.has(warning.guid)).length;
  part.productsWithShape = Math.max(0, model.productsWithShape - hidden - silent);
  const known = new Set(rule.knownCategories);
  return {
    model: part,
    withheld: elements.guid.length - kept.length,
    newCategories: [...new Set(elements.category)].filter((category) => !known.has(category)).sort(),
  };
}
