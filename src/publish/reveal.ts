import { revealTest, type RevealRule } from '@/core/reveal/reveal-rule';
import type { BuildingModel } from '@/formats/building-model';
import { keepElements } from './keep-elements';

export interface Revealed {
  model: BuildingModel;
  /** Elements that stay back. */
  withheld: number;
  /** Categories that the rule has not seen; they stay back too. */
  newCategories: string[];
}

/**
 * Keeps what a rule reveals. An element of a category that the rule has not seen stays back and its category is named,
 * so that nothing new is shown unasked.
 */
export function reveal(model: BuildingModel, rule: RevealRule): Revealed {
  const { elements, storeys } = model;
  const isRevealed = revealTest(rule);
  const keep = elements.guid.map((guid, row) =>
    isRevealed({
      guid,
      category: elements.category[row]!,
      storey: storeys[elements.storey[row]!]?.name ?? '',
      system: elements.system[row]!,
      material: elements.material[row]!,
      discipline: elements.discipline[row]!,
    }),
  );
  const known = new Set(rule.knownCategories);
  return {
    model: keepElements(model, keep),
    withheld: keep.filter((stays) => !stays).length,
    newCategories: [...new Set(elements.category)].filter((category) => !known.has(category)).sort(),
  };
}
