import { columnValue, type ElementIndex } from '../elements/element-index';
import { elementMask } from '../elements/match-elements';
import type { Box3 } from '../math/box3';
import { reasonTest, type RevealRule, type WithheldFor } from './reveal-rule';

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
  const reasonOf = reasonTest(rule);
  return index.guid.map((_, row) =>
    reasonOf(columnValue(index.category, row), rule.box ? boxOf(row) : null, revealed[row] === 1),
  );
}
