import { describe, expect, it } from 'vitest';
import { revealTest, withholdsNothing, type RevealedElement, type RevealRule } from './reveal-rule';
import { revealRuleSchema } from './reveal-rule-schema';

const door: RevealedElement = {
  guid: 'd1',
  category: 'Door',
  storey: 'Ground floor',
  system: '',
  material: 'Oak',
  discipline: 'Architecture',
  box: [0, 0, 0, 1, 0.1, 2.1],
};
const rule = (part: Partial<RevealRule>): RevealRule => ({
  withheld: [],
  elements: [],
  knownCategories: ['Door', 'Wall'],
  ...part,
});

describe('a rule about what to reveal', () => {
  it('lets through what it does not withhold', () => {
    expect(revealTest(rule({}))(door)).toBe(true);
    expect(revealTest(rule({ withheld: [{ column: 'category', value: 'Wall' }] }))(door)).toBe(true);
  });

  it('withholds by any branch, or a single element', () => {
    for (const [column, value] of [
      ['category', 'Door'],
      ['storey', 'Ground floor'],
      ['material', 'Oak'],
      ['discipline', 'Architecture'],
      ['system', ''],
    ] as const)
      expect(revealTest(rule({ withheld: [{ column, value }] }))(door)).toBe(false);
    expect(revealTest(rule({ elements: ['d1'] }))(door)).toBe(false);
  });

  it('reveals only what touches its box, and what has no shape', () => {
    const beside = revealTest(rule({ box: [1, 0, 0, 5, 5, 5] }));
    expect(beside(door)).toBe(true);
    expect(revealTest(rule({ box: [1.01, 0, 0, 5, 5, 5] }))(door)).toBe(false);
    expect(revealTest(rule({ box: [9, 9, 9, 10, 10, 10] }))({ ...door, box: null })).toBe(true);
    expect(withholdsNothing(rule({ box: [0, 0, 0, 1, 1, 1] }))).toBe(false);
    expect(revealRuleSchema.validate(rule({ box: [0, 0, 0, 1, 1, 1] })).error).toBeUndefined();
    expect(revealRuleSchema.validate({ ...rule({}), box: [0, 0, 0, 1] }).error).toBeDefined();
    expect(revealRuleSchema.validate({ ...rule({}), box: [0, 0, 0, 1, 1, Infinity] }).error).toBeDefined();
  });

  it('does not let a category through that nobody has decided about', () => {
    expect(revealTest(rule({}))({ ...door, category: 'Alarm' })).toBe(false);
  });

  it('tells whether it withholds anything', () => {
    expect([undefined, rule({}), rule({ elements: ['x'] })].map(withholdsNothing)).toEqual([true, true, false]);
  });

  it('refuses columns that there are not', () => {
    const wrong = { ...rule({}), withheld: [{ column: 'price', value: 'x' }] };
    expect(revealRuleSchema.validate(wrong).error).toBeDefined();
    expect(revealRuleSchema.validate(rule({ withheld: [{ column: 'storey', value: '' }] })).error).toBeUndefined();
  });
});
