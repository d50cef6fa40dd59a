import { textAt } from '../elements/element-columns';
import type { ElementIndex } from '../elements/element-index';
import type { Box3 } from '../math/box3';
import { withheldFor, type RevealColumn, type RevealedElement, type RevealRule, type WithheldFor } from './reveal-rule';

/** A branch of the contents by one column. */
export interface RevealBranch {
  /** Empty where the elements have no value. */
  value: string;
  /** Its elements. */
  rows: number[];
  /** Its share of all triangles of the model, 0..1. */
  weight: number;
}

/**
 * The branches of a model by a column: storeys from the lowest, the rest by the alphabet, elements without a value last.
 *
 * @param triangles by row
 * @param within rows to look at; all without it
 */
export function revealBranches(
  index: ElementIndex,
  column: RevealColumn,
  triangles: readonly number[] = [],
  within?: readonly number[],
): RevealBranch[] {
  const branches = new Map<string, number[]>();
  for (const row of within ?? index.guid.keys()) {
    const value = textAt(index, column, row);
    const rows = branches.get(value);
    if (rows) rows.push(row);
    else branches.set(value, [row]);
  }
  const whole = triangles.reduce((sum, one) => sum + one, 0) || 1;
  const order = column === 'storey' ? index.storeys.map((storey) => storey.name) : [...branches.keys()].sort(byName);
  const values = [...new Set(order)].filter((value) => value !== '' && branches.has(value));
  return [...values, ...(branches.has('') ? [''] : [])].map((value) => {
    const rows = branches.get(value)!;
    return { value, rows, weight: rows.reduce((sum, row) => sum + (triangles[row] ?? 0), 0) / whole };
  });
}

/**
 * For every row why a rule withholds it; null where it is revealed.
 *
 * @param boxOf box of a row in the model's own coordinates, null for one without a shape
 */
export function withheldRows(
  index: ElementIndex,
  rule: RevealRule,
  boxOf: (row: number) => Box3 | null,
): (WithheldFor | null)[] {
  const reasonOf = withheldFor(rule);
  return index.guid.map((_, row) => reasonOf(revealedElementAt(index, row, rule.box ? boxOf(row) : null)));
}

/** A rule that reveals everything there is now. */
export function revealAll(index: ElementIndex): RevealRule {
  return { withheld: [], elements: [], knownCategories: [...index.category.values] };
}

/** What a rule looks at, of a row. */
export function revealedElementAt(index: ElementIndex, row: number, box: Box3 | null): RevealedElement {
  return {
    box,
    guid: index.guid[row]!,
    category: textAt(index, 'category', row),
    storey: textAt(index, 'storey', row),
    system: textAt(index, 'system', row),
    material: textAt(index, 'material', row),
    discipline: textAt(index, 'discipline', row),
  };
}

function byName(a: string, b: string): number {
  return a.localeCompare(b, 'en', { numeric: true });
}
