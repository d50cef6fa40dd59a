import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { anySet, anyWhere, MODELS } from '../view/test-views';
import { guidRows } from './element-flags';
import { encodeColumn, type ElementIndex } from './element-index';
import {
  ALL_ELEMENTS,
  compactSet,
  setOf,
  soleElement,
  whereElements,
  withElements,
  withoutElements,
  type Condition,
  type ElementSet,
  type Where,
} from './element-set';
import { elementMask, factsAsked, rowsWhere, type FactRows, type ModelElements } from './match-elements';

const guid = ['g0', 'g1', 'g2', 'g3', 'g4', 'g5', 'g6', 'g7'];
const category = ['Wall', 'Wall', 'Door', 'Duct', 'Duct', '', 'Wall', '🪟'];
const storeyOf = [0, 1, 1, 0, 1, -1, 0, 1];
const storeyNames = ['Wall', 'Door']; // as one likes to call them
const room = ['', 'Duct', '', 'Duct', '', '', '', ''];
const empty = encodeColumn(guid.map(() => ''));
const index = {
  count: 8,
  guid,
  name: guid,
  category: encodeColumn(category),
  room: encodeColumn(room),
  material: empty,
  system: empty,
  discipline: empty,
  storey: storeyOf,
  storeys: storeyNames.map((name, i) => ({ guid: `s${i}`, name, elevation: i * 3 })),
} as Partial<ElementIndex> as ElementIndex;
const width = [1, -4, 0, 5, 2.5, 3, NaN, -5];
const FACTS: Record<string, FactRows[]> = {
  'Pset_WallCommon/FireRating': [
    { value: 'Wall', elements: [0, 3] },
    { value: '', elements: [5] },
  ],
  'Qto/Width': width.map((value, row) => ({ value: Number.isNaN(value) ? 'wide' : String(value), elements: [row] })),
};
const elements: ModelElements = {
  model: MODELS[0]!,
  index,
  rowOf: guidRows(index),
  facts: (set, name) => FACTS[`${set}/${name}`],
};

/** The meaning of a condition, written down a second time, row by row and without any haste. */
function meets(condition: Condition, row: number): boolean {
  switch (condition.is) {
    case 'model':
      return condition.value === MODELS[0];
    case 'category':
      return category[row] === condition.value;
    case 'storey':
      return (storeyNames[storeyOf[row]!] ?? '') === condition.value;
    case 'room':
      return room[row] === condition.value;
    case 'search':
      return [guid[row]!, category[row]!, room[row]!].some((text) => text.toLowerCase().includes(condition.value));
    case 'element':
      return condition.guids.includes(guid[row]!);
    case 'fact':
      if ('value' in condition)
        return row === 0 || row === 3 ? condition.value === 'Wall' : row === 5 && condition.value === '';
      return width[row]! >= condition.from! && width[row]! <= condition.to!;
    default:
      return condition.value === '';
  }
}

function follow(set: ElementSet): boolean[] {
  return guid.map((_, row) =>
    set.reduce((isIn, clause) => {
      const where: Where = 'also' in clause ? clause.also : clause.except;
      return where.every((condition) => meets(condition, row)) ? 'also' in clause : isIn;
    }, false),
  );
}
const mask = (set: ElementSet) => [...elementMask(set, elements)].map(Boolean);

describe('a set of elements', () => {
  it('holds what its clauses say, the last word counting', () => {
    fc.assert(
      fc.property(anySet, (set) => {
        expect(mask(set)).toEqual(follow(set));
      }),
      { numRuns: 1000 },
    );
  });

  it('is the same in its shortest form', () => {
    fc.assert(
      fc.property(anySet, (set) => {
        const short = compactSet(set);
        expect(mask(short)).toEqual(mask(set));
        expect(short.length).toBeLessThanOrEqual(set.length);
        expect(compactSet(short)).toEqual(short);
      }),
      { numRuns: 1000 },
    );
  });

  it('takes parts in and out', () => {
    fc.assert(
      fc.property(anySet, fc.array(anyWhere, { maxLength: 3 }), (set, wheres) => {
        const rows = new Set(rowsWhere(wheres, elements));
        expect(mask(withElements(set, wheres))).toEqual(mask(set).map((isIn, row) => isIn || rows.has(row)));
        expect(mask(withoutElements(set, wheres))).toEqual(mask(set).map((isIn, row) => isIn && !rows.has(row)));
      }),
    );
  });

  it('forgets what was said of parts when a whole is spoken of', () => {
    const duct: Where = [{ is: 'category', value: 'Duct' }];
    const one: Where = [...duct, { is: 'element', guids: ['g3'] }];
    expect(withoutElements(ALL_ELEMENTS, [one, duct])).toEqual([{ also: [] }, { except: duct }]);
    expect(withElements(withoutElements(ALL_ELEMENTS, [one]), [duct])).toEqual(ALL_ELEMENTS);
    expect(setOf([one, []])).toEqual(ALL_ELEMENTS);
    expect(withoutElements([], [duct])).toEqual([]);
  });

  it('keeps no trace of what was taken back', () => {
    const is = (value: string): Where => [{ is: 'category', value }];
    const wallsOut = withoutElements(ALL_ELEMENTS, [is('Wall')]);
    expect(withElements(withoutElements(wallsOut, [is('Duct')]), [is('Duct')])).toEqual(wallsOut);
    expect(withElements(wallsOut, [is('Duct')]), 'ducts were in all along').toEqual(wallsOut);
    expect(withoutElements(setOf([is('Wall')]), [is('Duct')]), 'ducts were never in').toEqual(setOf([is('Wall')]));
    const storeyIn = withElements(wallsOut, [[{ is: 'storey', value: 'Door' }]]);
    expect(storeyIn.length, 'walls of the storey were out').toBe(3);
  });

  it('joins elements that are named one after the other', () => {
    const named = (...guids: string[]) => whereElements(guids.map((one) => ({ model: MODELS[0]!, guid: one })));
    let set = ALL_ELEMENTS;
    for (const one of guid) set = withoutElements(set, named(one));
    expect(set).toEqual([{ also: [] }, { except: named(...guid)[0] }]);
  });

  it('of a whole category is short, however many are of it', () => {
    const set = withoutElements(ALL_ELEMENTS, [
      [
        { is: 'model', value: MODELS[0]! },
        { is: 'category', value: 'Duct' },
      ],
    ]);
    expect(JSON.stringify(set).length).toBeLessThan(160);
  });

  it('knows which facts it asks about, and that one element is meant', () => {
    const range: Condition = { is: 'fact', set: 'Qto', name: 'Width', from: 1 };
    expect(factsAsked([[{ also: [range] }, { except: [range] }], ALL_ELEMENTS])).toEqual([
      { set: 'Qto', name: 'Width' },
    ]);
    const ref = { model: MODELS[0]!, guid: 'g1' };
    expect(soleElement(whereElements([ref]))).toEqual(ref);
    expect(soleElement(whereElements([ref, { ...ref, guid: 'g2' }]))).toBeNull();
    expect(soleElement([[{ is: 'model', value: MODELS[0]! }]])).toBeNull();
  });

  it('finds nobody by facts that have not arrived', () => {
    const { facts: _, ...without } = elements;
    expect([...elementMask(setOf([[{ is: 'fact', set: 'Qto', name: 'Width', from: 0 }]]), without)]).not.toContain(1);
  });
});
