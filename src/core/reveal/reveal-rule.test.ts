import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ALL_ELEMENTS, withoutElements, type Where } from '../elements/element-set';
import type { DescribedElement } from '../elements/meets';
import { guidRows } from '../elements/element-flags';
import { encodeColumn, type ElementIndex } from '../elements/element-index';
import type { Box3 } from '../math/box3';
import { decide, readRevealRule, revealAll, withheldFor, withholdsNothing, type RevealRule } from './reveal-rule';
import { revealRuleSchema } from './reveal-rule-schema';
import { withheldRows } from './withheld-rows';

/** On each of two storeys two walls and two doors, the second of each of oak. */
const guid = ['w1', 'w2', 'd1', 'd2', 'w3', 'w4', 'd3', 'd4'];
const category = ['Wall', 'Wall', 'Door', 'Door', 'Wall', 'Wall', 'Door', 'Door'];
const material = ['', 'Oak', '', 'Oak', '', 'Oak', '', 'Oak'];
const storey = [0, 0, 0, 0, 1, 1, 1, 1];
const storeys = ['Ground', 'First'];
const none = encodeColumn(guid.map(() => ''));
const index = {
  count: 8,
  guid,
  category: encodeColumn(category),
  material: encodeColumn(material),
  system: none,
  room: none,
  discipline: none,
  storey,
  storeys: storeys.map((name, i) => ({ guid: `s${i}`, name, elevation: i * 3 })),
} as Partial<ElementIndex> as ElementIndex;
const rowOf = guidRows(index);
const columns = { category, material, storey: storey.map((one) => storeys[one]!) } as Record<string, string[]>;
const described = guid.map((own, row): DescribedElement => ({ guid: own, text: (is) => columns[is]?.[row] ?? '' }));

const DOORS: Where = [{ is: 'category', value: 'Door' }];
const GROUND: Where = [{ is: 'storey', value: 'Ground' }];
const OAK: Where = [{ is: 'material', value: 'Oak' }];
const GROUND_DOORS: Where = [...DOORS, ...GROUND];
const single = (...guids: string[]): Where => [{ is: 'element', guids }];
const ALL = revealAll(index.category.values);

/** By row, once from the index and once element by element: the page and the publishing worker agree. */
function isRevealed(rule: RevealRule): boolean[] {
  expect(revealRuleSchema.validate(JSON.parse(JSON.stringify(rule))).error).toBeUndefined();
  const reasonOf = withheldFor(rule);
  const reasons = described.map((element) => reasonOf(element, null));
  expect(withheldRows(index, rowOf, rule, () => null)).toEqual(reasons);
  return reasons.map((reason) => reason === null);
}

/** Guids of what a rule reveals. */
const revealed = (rule: RevealRule) => guid.filter((_, row) => isRevealed(rule)[row]).join(' ');
const say = (rule: RevealRule, where: Where, wanted: boolean) => decide(rule, where, ['Wall', 'Door'], wanted);

describe('a rule about what to reveal', () => {
  it('reveals everything at first, but nothing of a category that nobody has decided about', () => {
    expect(revealed(ALL)).toBe(guid.join(' '));
    expect(revealed(revealAll(['Wall']))).toBe('w1 w2 w3 w4');
    expect(withheldFor(revealAll(['Wall']))(described[2]!, null)).toBe('new');
  });

  it('withholds by any column, by two at once, and single elements', () => {
    expect(revealed(say(ALL, DOORS, false))).toBe('w1 w2 w3 w4');
    expect(revealed(say(ALL, OAK, false))).toBe('w1 d1 w3 d3');
    expect(revealed(say(ALL, GROUND_DOORS, false))).toBe('w1 w2 w3 w4 d3 d4');
    expect(revealed(say(ALL, single('w1', 'd4'), false))).toBe('w2 d1 d2 w3 w4 d3');
    expect(revealed(say(ALL, [{ is: 'system', value: '' }], false))).toBe('');
  });

  it('reveals only what touches its box, and what has no shape', () => {
    const boxed = (box: Box3) => withheldFor({ ...ALL, box });
    const door: Box3 = [0, 0, 0, 1, 0.1, 2.1];
    expect(boxed([1, 0, 0, 5, 5, 5])(described[2]!, door)).toBeNull();
    expect(boxed([1.01, 0, 0, 5, 5, 5])(described[2]!, door)).toBe('box');
    expect(boxed([9, 9, 9, 10, 10, 10])(described[2]!, null)).toBeNull();
    const inRow = (row: number): Box3 | null => (row === 3 ? null : [row, 0, 0, row + 0.5, 1, 1]);
    const rows = withheldRows(index, rowOf, { ...ALL, box: [0.2, 0, 0, 1.2, 1, 1] }, inRow);
    expect(rows.slice(0, 5)).toEqual([null, null, 'box', null, 'box']);
  });

  it('is refused where it makes no sense', () => {
    const refused = (part: object) => revealRuleSchema.validate({ ...ALL, ...part }).error !== undefined;
    expect(refused({})).toBe(false);
    expect(refused({ box: [0, 0, 0, 1] })).toBe(true);
    expect(refused({ box: [0, 0, 0, 1, 1, Infinity] })).toBe(true);
    expect(refused({ of: [{ except: [{ is: 'price', value: 'x' }] }] })).toBe(true);
    expect(refused({ of: undefined })).toBe(true);
  });

  it('tells whether it withholds anything', () => {
    const rules = [undefined, ALL, say(ALL, DOORS, false), { ...ALL, box: [0, 0, 0, 1, 1, 1] as Box3 }];
    expect(rules.map(withholdsNothing)).toEqual([true, true, false, false]);
  });
});

describe('deciding', () => {
  const anyPart = fc.constantFrom(DOORS, GROUND, OAK, GROUND_DOORS, single('w1'), single('d2', 'w4'), []);
  const anyRule = fc
    .array(fc.tuple(anyPart, fc.boolean()), { maxLength: 6 })
    .map((said) => said.reduce((rule, [where, wanted]) => say(rule, where, wanted), ALL));

  it('withholds what it is about and nothing else', () => {
    fc.assert(
      fc.property(anyRule, anyPart, (rule, where) => {
        const part = isRevealed({ ...ALL, of: withoutElements(ALL_ELEMENTS, [where]) });
        expect(isRevealed(say(rule, where, false))).toEqual(isRevealed(rule).map((own, row) => own && part[row]));
      }),
    );
  });

  it('reveals all that it is about, or takes just the withholding of it back', () => {
    fc.assert(
      fc.property(anyRule, anyPart, (rule, where) => {
        const part = isRevealed({ ...ALL, of: withoutElements(ALL_ELEMENTS, [where]) });
        const before = isRevealed(rule);
        const wasWithheld = rule.of.some((clause) => 'except' in clause && sameWords(clause.except, where));
        const once = say(rule, where, true);
        if (!wasWithheld) expect(isRevealed(once)).toEqual(before.map((own, row) => own || !part[row]));
        else expect(isRevealed(once).every((own, row) => own || !before[row])).toBe(true);
      }),
    );
  });

  it('leaves nothing behind when it is taken back', () => {
    fc.assert(
      fc.property(anyPart, (where) => {
        expect(say(say(ALL, where, false), where, true)).toEqual(ALL);
      }),
    );
    const noDoors = say(ALL, DOORS, false);
    expect(say(say(noDoors, GROUND, false), GROUND, true), 'doors of the ground floor stay back').toEqual(noDoors);
    expect(revealed(say(noDoors, GROUND, true)), 'until one asks for the whole of it').toBe('w1 w2 d1 d2 w3 w4');
  });

  it('is forgotten when the whole branch is decided about', () => {
    const one = say(say(ALL, DOORS, false), single('d2'), true);
    expect(revealed(one)).toBe('w1 w2 d2 w3 w4');
    expect(say(one, DOORS, false)).toEqual(say(ALL, DOORS, false));
    expect(say(say(ALL, GROUND_DOORS, false), DOORS, true)).toEqual(ALL);
  });

  it('of a part of a new category reveals that, and the rest is decided about too', () => {
    const rule = decide(revealAll(['Wall']), GROUND_DOORS, ['Door'], true);
    expect(revealed(rule)).toBe('w1 w2 d1 d2 w3 w4');
    expect(rule.knownCategories).toEqual(['Wall', 'Door']);
    expect(decide(revealAll(['Wall']), DOORS, ['Door'], true)).toEqual(ALL);
    expect(decide(revealAll(['Wall']), DOORS, ['Door'], false).knownCategories).toEqual(['Wall', 'Door']);
  });

  function sameWords(a: Where, b: Where): boolean {
    return a.length === b.length && a.every((one) => b.some((two) => JSON.stringify(one) === JSON.stringify(two)));
  }
});

interface OldBranch {
  column: string;
  value: string;
}
interface OldRule {
  withheld: OldBranch[];
  parts?: { within: OldBranch[]; revealed: boolean }[];
  elements: string[];
  revealed?: string[];
  knownCategories: string[];
}

/** What such a rule meant when it was stored. */
function meant(rule: OldRule, row: number): boolean {
  if (rule.elements.includes(guid[row]!)) return false;
  if (rule.revealed?.includes(guid[row]!)) return true;
  const has = ({ column, value }: OldBranch) => columns[column]![row] === value;
  const parts = (rule.parts ?? []).filter(({ within }) => within.every(has));
  if (parts.some((part) => !part.revealed)) return false;
  const freed = parts.flatMap(({ within }) => within.map(({ column }) => column));
  return rule.withheld.every((branch) => !has(branch) || freed.includes(branch.column));
}

describe('a rule that was stored before sets had one language', () => {
  const branch = (column: string, ...values: string[]) =>
    fc.constantFrom(...values).map((value): OldBranch => ({ column, value }));
  const [byCategory, byStorey, byMaterial] = [
    branch('category', 'Wall', 'Door'),
    branch('storey', 'Ground', 'First'),
    branch('material', '', 'Oak'),
  ];
  const guids = fc.subarray(guid);
  const oldRule = (within: fc.Arbitrary<OldBranch[]>) =>
    fc.record({
      withheld: fc.uniqueArray(fc.oneof(byCategory, byStorey, byMaterial), { selector: ({ value }) => value }),
      parts: fc.uniqueArray(fc.record({ within, revealed: fc.boolean() }), {
        selector: (part) => part.within.map(({ value }) => value).join(),
      }),
      elements: guids,
      revealed: guids,
      knownCategories: fc.constant<string[]>(['Wall', 'Door']),
    });

  it('means the same', () => {
    fc.assert(
      fc.property(oldRule(fc.tuple(byCategory, byStorey)), (rule) => {
        expect(isRevealed(readRevealRule(rule))).toEqual(guid.map((_, row) => meant(rule, row)));
      }),
      { numRuns: 500 },
    );
  });

  it('reveals no more than it did, however its parts overlap', () => {
    const anyTwo = fc.oneof(fc.tuple(byCategory, byStorey), fc.tuple(byCategory, byMaterial));
    fc.assert(
      fc.property(oldRule(anyTwo), (rule) => {
        isRevealed(readRevealRule(rule)).forEach((now, row) => now && expect(meant(rule, row)).toBe(true));
      }),
      { numRuns: 500 },
    );
  });

  it('keeps its box and its categories, and reads again as itself', () => {
    const old = { withheld: [], elements: [], knownCategories: ['Wall'], box: [0, 0, 0, 1, 1, 1] };
    const rule = readRevealRule(old);
    expect(rule).toEqual({ of: ALL_ELEMENTS, knownCategories: ['Wall'], box: [0, 0, 0, 1, 1, 1] });
    expect(readRevealRule(JSON.parse(JSON.stringify(rule)))).toEqual(rule);
    expect(readRevealRule({ of: 'all' }).of, 'what makes no sense reveals nothing').toEqual([]);
  });
});
