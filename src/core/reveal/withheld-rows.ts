import { columnValue, type ElementIndex } from '../elements/element-index';
import { elementMask } from '../elements/match-elements';
import { boxesTouch, type Box3 } from '../math/box3';
import type { RevealRule, WithheldFor } from './reveal-rule';

/**
 * For every row of a model why a rule withholds it; null where it is revealed.
 *
 * @param rowOf guid -> row
 * @param boxOf box of a row in the model's own coordinates, null for one without a shape
 */
export function withheldRows(
  index: ElementIndex,
  rowOf: ReadonlyMap<string, number>,
  rule: RevealRule,
  boxOf: (row: number) => Box3 | null,
): (WithheldFor | null)[] {
  const revealed = elementMask(rule.of, { model: '', index, rowOf });
  const known = new Set(rule.knownCategories);
  return index.guid.map((_, row) => {
    const box = rule.box ? boxOf(row) : null;
    if (rule.box && box && !boxesTouch(rule.box, box)) return 'box';
    if (!known.has(columnValue(index.category, row))) return 'new';
    return revealed[row] ? null : 'rule';
  });
}
