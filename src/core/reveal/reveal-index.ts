import { columnValue, type ElementIndex } from '../elements/element-index';
import type { Box3 } from '../math/box3';
import { revealTest, type RevealColumn, type RevealedElement, type RevealRule } from './reveal-rule';

/** A branch of the contents by one column, with the number of elements in it. */
export interface RevealBranch {
  /** Empty where the elements have no value. */
  value: string;
  count: number;
  /** Its share of all triangles, 0..1. */
  weight: number;
}

/**
 * The branches of a model by a column: storeys from the lowest, the rest by the alphabet, elements without a value last.
 *
 * @param triangles by row
 */
export function revealBranches(
  index: ElementIndex,
  column: RevealColumn,
  triangles: readonly number[] = [],
): RevealBranch[] {
  const counts = new Map<string, number>();
  const weights = new Map<string, number>();
  const whole = triangles.reduce((sum, one) => sum + one, 0) || 1;
  for (let row = 0; row < index.count; row++) {
    const value = textAt(index, column, row);
    counts.set(value, (counts.get(value) ?? 0) + 1);
    weights.set(value, (weights.get(value) ?? 0) + (triangles[row] ?? 0) / whole);
  }
  const order = column === 'storey' ? index.storeys.map((storey) => storey.name) : [...counts.keys()].sort(byName);
  const values = [...new Set(order)].filter((value) => value !== '' && counts.has(value));
  return [...values, ...(counts.has('') ? [''] : [])].map((value) => ({
    value,
    count: counts.get(value)!,
    weight: weights.get(value)!,
  }));
}

/**
 * For every row whether a rule reveals it.
 *
 * @param boxOf box of a row in the model's own coordinates, null for one without a shape
 */
export function revealedRows(index: ElementIndex, rule: RevealRule, boxOf: (row: number) => Box3 | null): boolean[] {
  const isRevealed = revealTest(rule);
  return index.guid.map((_, row) => isRevealed({ ...elementAt(index, row), box: rule.box ? boxOf(row) : null }));
}

/** A rule that reveals everything there is now. */
export function revealAll(index: ElementIndex): RevealRule {
  return { withheld: [], elements: [], knownCategories: [...index.category.values] };
}

function elementAt(index: ElementIndex, row: number): Omit<RevealedElement, 'box'> {
  return {
    guid: index.guid[row]!,
    category: textAt(index, 'category', row),
    storey: textAt(index, 'storey', row),
    system: textAt(index, 'system', row),
    material: textAt(index, 'material', row),
    discipline: textAt(index, 'discipline', row),
  };
}

/** The text of a column in a row; a storey goes by its name. Empty where nothing is known. */
export function textAt(index: ElementIndex, column: RevealColumn, row: number): string {
  if (column === 'storey') return index.storeys[index.storey[row]!]?.name ?? '';
  return columnValue(index[column], row);
}

function byName(a: string, b: string): number {
  return a.localeCompare(b, 'en', { numeric: true });
}
