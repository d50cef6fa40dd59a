import { describe, expect, it } from 'vitest';
import { revealTest, withheldFor, withholdsNothing, type RevealedElement, type RevealRule } from './reveal-rule';
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

  it('tells why it withholds something', () => {
    const category = { column: 'category', value: 'Door' } as const;
    const storey = { column: 'storey', value: 'Ground floor' } as const;
    const why = (part: Partial<RevealRule>) => withheldFor(rule(part))(door);
    expect(why({})).toBeNull();
    expect(why({ withheld: [storey] })).toBe('storey');
    expect(why({ elements: ['d1'], withheld: [storey] })).toBe('element');
    expect(why({ knownCategories: [] })).toBe('new');
    expect(why({ parts: [{ within: [category, storey], revealed: false }] })).toBe('part');
    expect(why({ revealed: ['d1'], box: [9, 9, 9, 10, 10, 10] })).toBe('box');
  });

  it('tells whether it withholds anything', () => {
    const part = (revealed: boolean): RevealRule['parts'] => [
      {
        within: [
          { column: 'category', value: 'Door' },
          { column: 'storey', value: '' },
        ],
        revealed,
      },
    ];
    const rules = [
      undefined,
      rule({}),
      rule({ elements: ['x'] }),
      rule({ parts: part(true) }),
      rule({ parts: part(false) }),
    ];
    expect(rules.map(withholdsNothing)).toEqual([true, true, false, true, false]);
  });

  it('refuses columns that there are not', () => {
    const wrong = { ...rule({}), withheld: [{ column: 'price', value: 'x' }] };
    expect(revealRuleSchema.validate(wrong).error).toBeDefined();
    expect(revealRuleSchema.validate(rule({ withheld: [{ column: 'storey', value: '' }] })).error).toBeUndefined();
  });
});
