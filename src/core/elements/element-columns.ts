import { columnValue, type ElementIndex } from './element-index';

/** What the contents know of every element and a rule can name. */
export const ELEMENT_COLUMNS = ['category', 'storey', 'type', 'system', 'room', 'material', 'discipline'] as const;
export type ElementColumn = (typeof ELEMENT_COLUMNS)[number];

/** The text of a column in a row; a storey goes by its name. Empty where nothing is known. */
export function textAt(index: ElementIndex, column: ElementColumn, row: number): string {
  if (column === 'storey') return index.storeys[index.storey[row]!]?.name ?? '';
  const coded = index[column];
  return coded ? columnValue(coded, row) : '';
}

/** A test whether a row has a value in a column. It compares codes, so that it is quick on many rows. */
export function hasText(index: ElementIndex, column: ElementColumn, value: string): (row: number) => boolean {
  if (column === 'storey') {
    const named = index.storeys.map(({ name }) => name === value);
    return (row) => named[index.storey[row]!] ?? value === '';
  }
  const coded = index[column];
  if (!coded) return () => value === '';
  const code = value === '' ? -1 : coded.values.indexOf(value);
  if (code < 0 && value !== '') return () => false;
  return (row) => coded.codes[row] === code;
}
