import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { encodeColumn, type ElementIndex } from '../elements/element-index';
import { decideBranch, decideElements, decidePart, isWithheld } from './change-rule';
import { revealAll, withheldRows } from './reveal-index';
import type { Branch, RevealRule } from './reveal-rule';
import { revealRuleSchema } from './reveal-rule-schema';

/** On each of two storeys two walls and two doors, the second of each of oak. */
const index = {
  count: 8,
  guid: ['w1', 'w2', 'd1', 'd2', 'w3', 'w4', 'd3', 'd4'],
  category: encodeColumn(['Wall', 'Wall', 'Door', 'Door', 'Wall', 'Wall', 'Door', 'Door']),
  material: encodeColumn(['', 'Oak', '', 'Oak', '', 'Oak', '', 'Oak']),
  system: encodeColumn(Array(8).fill('')),
  discipline: encodeColumn(Array(8).fill('')),
  storey: [0, 0, 0, 0, 1, 1, 1, 1],
  storeys: [
    { guid: 's0', name: 'Ground', elevation: 0 },
    { guid: 's1', name: 'First', elevation: 3 },
  ],
} as Partial<ElementIndex> as ElementIndex;

const DOORS: Branch = { column: 'category', value: 'Door' };
const GROUND: Branch = { column: 'storey', value: 'Ground' };
const OAK: Branch = { column: 'material', value: 'Oak' };
const ROWS = { doors: [2, 3, 6, 7], ground: [0, 1, 2, 3], groundDoors: [2, 3] };
const all = revealAll(index);

function areRevealed(rule: RevealRule): boolean[] {
  return withheldRows(index, rule, () => null).map((reason) => reason === null);
}

/** Guids of what a rule reveals, and that it may be sent. */
function revealed(rule: RevealRule): string {
  expect(revealRuleSchema.validate(JSON.parse(JSON.stringify(rule))).error).toBeUndefined();
  return index.guid.filter((_, row) => areRevealed(rule)[row]).join(' ');
}

describe('deciding about a part of a branch', () => {
  it('withholds what is of both, from whichever side one came', () => {
    for (const within of [
      [DOORS, GROUND],
      [GROUND, DOORS],
    ] as [Branch, Branch][]) {
      const rule = decidePart(all, index, within, ROWS.groundDoors, false);
      expect(revealed(rule)).toBe('w1 w2 w3 w4 d3 d4');
      expect(revealed(decidePart(rule, index, [GROUND, DOORS], ROWS.groundDoors, true))).toBe(revealed(all));
    }
  });

  it('reveals it although one of them is withheld, and nothing that a third branch withholds', () => {
    const noDoors = decideBranch(all, index, DOORS, ROWS.doors, false);
    const rule = decidePart(noDoors, index, [GROUND, DOORS], ROWS.groundDoors, true);
    expect(revealed(rule)).toBe('w1 w2 d1 d2 w3 w4');
    expect(revealed(decideBranch(rule, index, OAK, [1, 3, 5, 7], false))).toBe('w1 d1 w3');
  });

  it('is forgotten when the whole branch is decided about', () => {
    const rule = decidePart(all, index, [GROUND, DOORS], ROWS.groundDoors, false);
    expect(revealed(decideBranch(rule, index, DOORS, ROWS.doors, true))).toBe(revealed(all));
    expect([isWithheld(rule, [DOORS, GROUND]), isWithheld(rule, [DOORS]), isWithheld(all, [DOORS, GROUND])]).toEqual([
      true,
      false,
      false,
    ]);
    const noDoors = decideBranch(all, index, DOORS, ROWS.doors, false);
    expect([isWithheld(noDoors, [DOORS]), isWithheld(noDoors, [GROUND, DOORS])]).toEqual([true, false]);
  });

  it('of a new category reveals no more of it than that', () => {
    const before: RevealRule = { ...all, knownCategories: ['Wall'] };
    expect(revealed(before)).toBe('w1 w2 w3 w4');
    const rule = decidePart(before, index, [GROUND, DOORS], ROWS.groundDoors, true);
    expect(revealed(rule)).toBe('w1 w2 d1 d2 w3 w4');
    expect(rule.knownCategories).toEqual(['Wall', 'Door']);
  });
});

describe('deciding about single elements', () => {
  it('counts before every branch, until that is decided about anew', () => {
    const noDoors = decideBranch(all, index, DOORS, ROWS.doors, false);
    const one = decideElements(noDoors, index, [3], true);
    expect(revealed(one)).toBe('w1 w2 d2 w3 w4');
    expect(revealed(decideBranch(one, index, DOORS, ROWS.doors, false))).toBe('w1 w2 w3 w4');
    const part = decidePart(one, index, [GROUND, DOORS], ROWS.groundDoors, true);
    expect(revealed(part)).toBe('w1 w2 d1 d2 w3 w4');
    expect(revealed(decideElements(part, index, [2], false))).toBe('w1 w2 d2 w3 w4');
  });

  it('does what it says to them and nothing to others, and leaves nothing behind when taken back', () => {
    const someRows = fc.uniqueArray(fc.nat(7), { maxLength: 8 });
    const rules = fc
      .tuple(someRows, someRows, fc.boolean(), fc.subarray([DOORS, GROUND, OAK]))
      .map(([out, back, ground, withheld]): RevealRule => {
        const elements = out.map((row) => index.guid[row]!);
        const parts = [{ within: [DOORS, GROUND] as [Branch, Branch], revealed: ground }];
        return { ...all, withheld, parts, elements, revealed: back.map((row) => index.guid[row]!) };
      });
    fc.assert(
      fc.property(rules, someRows, fc.boolean(), (rule, rows, wanted) => {
        const before = areRevealed(rule);
        const after = areRevealed(decideElements(rule, index, rows, wanted));
        expect(after).toEqual(before.map((own, row) => (rows.includes(row) ? wanted : own)));
      }),
    );
    const undone = decideElements(decideElements(all, index, [0, 5], false), index, [0, 5], true);
    expect([undone.elements, undone.revealed]).toEqual([[], []]);
  });
});
