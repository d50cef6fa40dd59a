import { columnSearch } from './contents';
import { hasText } from './element-columns';
import type { ElementIndex } from './element-index';
import { whereOf, type Condition, type ElementSet, type Where } from './element-set';
import { factFits } from './meets';

/** The values of a fact in one model, with the rows that have each; undefined until they have arrived. */
export type FactLookup = (set: string, name: string) => readonly FactRows[] | undefined;

export interface FactRows {
  value: string;
  elements: readonly number[];
}

/** The elements of one model, as far as a rule can ask about them. */
export interface ModelElements {
  model: string;
  index: ElementIndex;
  /** guid -> row, from `guidRows`. */
  rowOf: ReadonlyMap<string, number>;
  /** Without it, no element has any fact. */
  facts?: FactLookup;
}

/** By row: 1 for what is in the set, else 0. */
export function elementMask(set: ElementSet, elements: ModelElements): Uint8Array {
  const mask = new Uint8Array(elements.index.count);
  for (const clause of set) markWhere(mask, whereOf(clause), elements, 'also' in clause ? 1 : 0);
  return mask;
}

/** The rows that meet all conditions of at least one part, in ascending order. */
export function rowsWhere(wheres: readonly Where[], elements: ModelElements): number[] {
  const mask = new Uint8Array(elements.index.count);
  for (const where of wheres) markWhere(mask, where, elements, 1);
  const rows: number[] = [];
  mask.forEach((one, row) => one && rows.push(row));
  return rows;
}

/** Writes a value into the rows of a byte column that meet all conditions. */
export function markWhere(column: Uint8Array, where: Where, elements: ModelElements, value: number): void {
  const listed = where.find((condition) => condition.is === 'element');
  const tests: ((row: number) => boolean)[] = [];
  for (const condition of where) {
    if (condition === listed) continue;
    const test = conditionTest(condition, elements);
    if (test === false) return;
    if (test !== true) tests.push(test);
  }
  if (listed) {
    for (const guid of listed.guids) {
      const row = elements.rowOf.get(guid);
      if (row !== undefined && tests.every((test) => test(row))) column[row] = value;
    }
  } else if (tests.length === 0) column.fill(value);
  else if (tests.length === 1) {
    const [test] = tests as [(row: number) => boolean];
    for (let row = 0; row < column.length; row++) if (test(row)) column[row] = value;
  } else for (let row = 0; row < column.length; row++) if (tests.every((test) => test(row))) column[row] = value;
}

/** A test of rows, or what the answer is for all rows of this model. */
function conditionTest(condition: Condition, elements: ModelElements): boolean | ((row: number) => boolean) {
  const { index } = elements;
  switch (condition.is) {
    case 'model':
      return condition.value === elements.model;
    case 'search':
      return columnSearch(index, condition.value);
    case 'element': {
      const rows = new Set(condition.guids.map((guid) => elements.rowOf.get(guid)));
      return (row) => rows.has(row);
    }
    case 'fact': {
      const rows = new Set<number>();
      for (const { value, elements: own } of elements.facts?.(condition.set, condition.name) ?? [])
        if (factFits(condition, value)) for (const row of own) rows.add(row);
      return rows.size > 0 && ((row) => rows.has(row));
    }
    default:
      return hasText(index, condition.is, condition.value);
  }
}

/** The facts that a rule asks about, each once. */
export function factsAsked(sets: readonly ElementSet[]): { set: string; name: string }[] {
  const asked = new Map<string, { set: string; name: string }>();
  for (const clause of sets.flat())
    for (const condition of whereOf(clause))
      if (condition.is === 'fact')
        asked.set(`${condition.set}\n${condition.name}`, { set: condition.set, name: condition.name });
  return [...asked.values()];
}
