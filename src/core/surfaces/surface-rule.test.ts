import { describe, expect, it } from 'vitest';
import { colorParts, factText, fitsElement, type SurfaceRule } from './surface-rule';
import { surfaceRuleSchema } from './surface-rule-schema';

const rule = (part: Partial<SurfaceRule>): SurfaceRule => ({
  by: 'category',
  value: 'Door',
  label: 'Door',
  color: '#336699',
  opacity: 1,
  material: null,
  ...part,
});
const FACTS: Record<string, unknown> = { FireRating: 'EI 30', Width: 0.1 + 0.2, Sound: null, External: false };
const door = {
  guid: 'd1',
  category: 'Door',
  material: 'Oak',
  fact: (set: string, name: string) => (set === 'Doors' ? FACTS[name] : undefined),
};

describe('a rule about surfaces', () => {
  it('finds elements by category, material, single element and fact', () => {
    expect(fitsElement(rule({}), door)).toBe(true);
    expect(fitsElement(rule({ value: 'Wall' }), door)).toBe(false);
    expect(fitsElement(rule({ by: 'material', value: 'Oak' }), door)).toBe(true);
    expect(fitsElement(rule({ by: 'element', value: 'd2' }), door)).toBe(false);
    const byFact = (name: string, value: string, set = 'Doors') =>
      fitsElement(rule({ by: 'fact', value, fact: { set, name } }), door);
    expect(byFact('FireRating', 'EI 30')).toBe(true);
    expect(byFact('FireRating', 'EI 30', 'Windows')).toBe(false);
    expect(byFact('Width', '0.3'), 'what one reads, not the last bit').toBe(true);
    expect(byFact('External', 'false')).toBe(true);
    expect(byFact('Sound', 'null'), 'no value is no fact').toBe(false);
  });

  it('is refused where it changes nothing or makes no sense', () => {
    const refused = (part: Partial<SurfaceRule>) => surfaceRuleSchema.validate(rule(part)).error !== undefined;
    expect(refused({})).toBe(false);
    expect(refused({ color: null, material: 'Oak' })).toBe(false);
    expect(refused({ color: null })).toBe(true);
    expect(refused({ color: 'red' })).toBe(true);
    expect(refused({ opacity: 0 })).toBe(true);
    expect(refused({ material: '  ' })).toBe(true);
    expect(refused({ by: 'fact' })).toBe(true);
    expect(refused({ by: 'fact', fact: { set: 'Doors', name: 'Width' } })).toBe(false);
    expect(refused({ fact: { set: 'Doors', name: 'Width' } })).toBe(true);
  });

  it('reads colours and writes numbers as people do', () => {
    expect(colorParts('#ff8000')).toEqual([1, 128 / 255, 0]);
    expect([factText(1e-7), factText(12), factText(true), factText(1 / 3)]).toEqual([
      '1e-7',
      '12',
      'true',
      '0.333333333333',
    ]);
  });
});
