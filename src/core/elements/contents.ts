import { columnValue, type ElementIndex } from './element-index';
import type { Where } from './element-set';

/** A branch of the contents: a model, a storey, a category, or an element. */
export interface ContentsNode {
  key: string;
  label: string;
  /** How many elements lie below, or 1 for an element. */
  count: number;
  /** Rows of all elements below. */
  rows: number[];
  /** What is asked of an element of this model to be of the branch. */
  where: Where;
  children: ContentsNode[];
}

export const NO_STOREY = 'Site and other';

/**
 * Contents of one model: storeys from the top down, within them categories by name, within them elements. An element
 * that no storey holds goes under its own branch at the end.
 */
export function contentsByStorey(index: ElementIndex): ContentsNode[] {
  const order = [...index.storeys.keys()].reverse();
  return [...order, -1].flatMap((storey) => {
    const rows = index.storey.flatMap((own, row) => (own === storey ? [row] : []));
    if (rows.length === 0) return [];
    const key = `storey:${storey}`;
    const where: Where = [{ is: 'storey', value: index.storeys[storey]?.name ?? '' }];
    return [
      {
        key,
        label: storey < 0 ? NO_STOREY : index.storeys[storey]!.name,
        count: rows.length,
        rows,
        where,
        children: byCategory(index, rows, key, where),
      },
    ];
  });
}

function byCategory(index: ElementIndex, rows: number[], parentKey: string, parent: Where): ContentsNode[] {
  const groups = new Map<string, number[]>();
  for (const row of rows) {
    const category = columnValue(index.category, row);
    const group = groups.get(category);
    if (group) group.push(row);
    else groups.set(category, [row]);
  }
  return [...groups]
    .sort(([a], [b]) => a.localeCompare(b))
    .map(([label, own]) => {
      const key = `${parentKey}/${label}`;
      return {
        key,
        label,
        count: own.length,
        rows: own,
        where: [...parent, { is: 'category', value: label }],
        children: own.map((row) => ({
          key: `${key}/${row}`,
          label: index.name[row]!,
          count: 1,
          rows: [row],
          where: [{ is: 'element', guids: [index.guid[row]!] }],
          children: [],
        })),
      };
    });
}

/** Letters from which on a word may be of a guid: these are made of chance, and any short one is in some of them. */
const GUID_WORD = 8;

/** Searches of one model's contents; each is done once, because a view asks for it again and again. */
const searched = new WeakMap<ElementIndex, Map<string, Uint8Array>>();
const MOST_SEARCHES = 50;

/** Rows whose name, category, material, system, room or guid holds every word of the query, in any case. */
export function searchElements(index: ElementIndex, query: string): number[] {
  const rows: number[] = [];
  searchMask(index, query).forEach((one, row) => one && rows.push(row));
  return rows;
}

/** A test whether a search finds a row. */
export function columnSearch(index: ElementIndex, query: string): (row: number) => boolean {
  const mask = searchMask(index, query);
  return (row) => mask[row] === 1;
}

function searchMask(index: ElementIndex, query: string): Uint8Array {
  const known = searched.get(index) ?? new Map<string, Uint8Array>();
  searched.set(index, known);
  let mask = known.get(query);
  if (!mask) {
    if (known.size >= MOST_SEARCHES) known.clear();
    mask = search(index, query);
    known.set(query, mask);
  }
  return mask;
}

function search(index: ElementIndex, query: string): Uint8Array {
  const words = query.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  const mask = new Uint8Array(index.count);
  if (words.length === 0) return mask;
  for (let row = 0; row < index.count; row++) {
    const text = [
      index.name[row]!,
      columnValue(index.category, row),
      columnValue(index.material, row),
      columnValue(index.system, row),
      columnValue(index.room, row),
    ]
      .join('\n')
      .toLocaleLowerCase();
    const isInGuid = (word: string) => word.length >= GUID_WORD && index.guid[row]!.toLocaleLowerCase().includes(word);
    if (words.every((word) => text.includes(word) || isInGuid(word))) mask[row] = 1;
  }
  return mask;
}
