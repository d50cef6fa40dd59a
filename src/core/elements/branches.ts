import { textAt, type ElementColumn } from './element-columns';
import type { ElementIndex } from './element-index';

/** All elements of a model with one value in a column. */
export interface Branch {
  /** A storey goes by its name. Empty where the elements have no value. */
  value: string;
  rows: number[];
  /** Its share of all triangles of the model, 0..1. */
  weight: number;
}

/** By what people divide a model when they decide about parts of it. */
export const BRANCH_COLUMNS = ['category', 'storey', 'system', 'material', 'discipline'] as const;
export type BranchColumn = (typeof BRANCH_COLUMNS)[number];

/**
 * The branches of a model by a column: storeys from the lowest, the rest by the alphabet, elements without a value last.
 *
 * @param triangles by row
 * @param within rows to look at; all without it
 */
export function branchesBy(
  index: ElementIndex,
  column: ElementColumn,
  triangles: readonly number[] = [],
  within?: readonly number[],
): Branch[] {
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

function byName(a: string, b: string): number {
  return a.localeCompare(b, 'en', { numeric: true });
}
