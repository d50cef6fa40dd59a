import type { Box3 } from '../math/box3';

/** A column of strings with few different values: `codes[i]` points into `values`; -1 means none. */
export interface CodedColumn {
  values: string[];
  codes: number[];
}

export interface StoreyEntry {
  guid: string;
  name: string;
  /** Height of the storey's floor above the model's zero, in metres. */
  elevation: number;
}

/**
 * What the page needs to know of every element without asking the server: one row an element, in the dense order
 * 0..count-1 that the tiles' feature ids and the state texture use. Served compressed as `elements.json`.
 */
export interface ElementIndex {
  count: number;
  guid: string[];
  name: string[];
  category: CodedColumn;
  /** What kind of its category it is, such as a door type; revisions of older versions lack it. */
  type?: CodedColumn;
  material: CodedColumn;
  system: CodedColumn;
  room: CodedColumn;
  discipline: CodedColumn;
  /** Index into `storeys`, or -1. */
  storey: number[];
  /** Index of the element that this one is a part of, or -1. */
  parent: number[];
  storeys: StoreyEntry[];
  /** The model's extent in metres, Z up, relative to the revision's offset. */
  extent: Box3;
  /** The elements' boxes, quantised over `extent`, in columns. @see boxColumns */
  boxes: number[][];
}

/** Codes a column of strings; an empty string becomes -1. Values keep the order of first appearance. */
export function encodeColumn(column: readonly string[]): CodedColumn {
  const values: string[] = [];
  const seen = new Map<string, number>();
  const codes = column.map((value) => {
    if (value === '') return -1;
    let code = seen.get(value);
    if (code === undefined) {
      code = values.length;
      values.push(value);
      seen.set(value, code);
    }
    return code;
  });
  return { values, codes };
}

/** The string in row `i` of a coded column, or the empty string. */
export function columnValue(column: CodedColumn, i: number): string {
  const code = column.codes[i];
  return code === undefined || code < 0 ? '' : (column.values[code] ?? '');
}

/** What an element is called in a list: its name, or where it has none its category. */
export function elementLabel(index: ElementIndex, row: number): string {
  return index.name[row] || columnValue(index.category, row);
}
