import { withheldFor, type RevealRule } from '@/core/reveal/reveal-rule';
import type { BuildingModel } from '@/formats/building-model';
import { isEmptyBox, translateBox, type Box3 } from '@/core/math/box3';
import { describedElements } from '../described-elements';
import { placeGeometry } from '../geometry/element-geometry';
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
  const reasonOf = withheldFor(rule);
  const boxOf = rule.box ? elementBoxes(model) : () => null;
  const keep = describedElements(model).map((element, row) => reasonOf(element, boxOf(row)) === null);
  const known = new Set(rule.knownCategories);
  return {
    model: keepElements(model, keep),
    withheld: keep.filter((stays) => !stays).length,
    newCategories: [...new Set(model.elements.category)].filter((category) => !known.has(category)).sort(),
  };
}

/** Boxes by row in the model's own coordinates; null for an element without a shape. */
function elementBoxes(model: BuildingModel): (row: number) => Box3 | null {
  const { elementBoxes: boxes, offset } = placeGeometry(model);
  return (row) => {
    const box = [...boxes.subarray(row * 6, row * 6 + 6)] as Box3;
    return isEmptyBox(box) ? null : translateBox(box, offset);
  };
}
