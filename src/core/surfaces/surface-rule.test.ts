import { describe, expect, it } from 'vitest';
import type { Where } from '../elements/element-set';
import { factText, whereTest, type DescribedElement } from '../elements/meets';
import { colorParts, materialAsked, readSurfaceRules, type SurfaceRule } from './surface-rule';
import { surfaceRuleSchema } from './surface-rule-schema';

const rule = (part: Partial<SurfaceRule>): SurfaceRule => ({
  of: [{ is: 'category', value: 'Door' }],
  label: 'Door',
  color: '#336699',
  opacity: 1,
  material: null,
  ...part,
});
const FACTS: Record<string, unknown> = { FireRating: 'EI 30', Width: 0.1 + 0.2, Sound: null, External: false };
const TEXTS: Partial<Record<string, string>> = { category: 'Door', material: 'Oak' };
const door: DescribedElement = {
  guid: 'd1',
  text: (column) => TEXTS[column] ?? '',
  fact: (set: string, name: string) => (set === 'Doors' ? FACTS[name] : undefined),
};

describe('a rule about surfaces', () => {
  it('finds elements by category, material, single element and fact', () => {
    const fits = (...of: Where) => whereTest(of)(door);
    expect(whereTest(rule({}).of)(door)).toBe(true);
    expect(fits({ is: 'category', value: 'Wall' })).toBe(false);
    expect(fits({ is: 'material', value: 'Oak' })).toBe(true);
    expect(fits({ is: 'element', guids: ['d2'] })).toBe(false);
    expect(fits({ is: 'material', value: 'Oak' }, { is: 'storey', value: '' })).toBe(true);
    expect(fits({ is: 'material', value: 'Oak' }, { is: 'category', value: 'Wall' })).toBe(false);
    const byFact = (name: string, value: string, set = 'Doors') => fits({ is: 'fact', set, name, value });
    expect(fits({ is: 'fact', set: 'Doors', name: 'Width', from: 0.2, to: 0.4 })).toBe(true);
    expect(fits({ is: 'fact', set: 'Doors', name: 'Width', from: 0.4 })).toBe(false);
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
    expect(refused({ of: [] })).toBe(true);
    expect(refused({ of: [{ is: 'fact', set: 'Doors', name: 'Width', value: '1' }] })).toBe(false);
    expect(refused({ of: [{ is: 'fact', set: 'Doors', name: 'Width' } as never] })).toBe(true);
  });

  it('that asks for one material and nothing else also finds single surfaces', () => {
    expect(materialAsked(rule({ of: [{ is: 'material', value: 'Oak' }] }))).toBe('Oak');
    expect(materialAsked(rule({}))).toBeNull();
  });

  it('is read as it was once stored, with one subject by name', () => {
    const look = { label: 'Door', color: '#336699', opacity: 0.5, material: null };
    const old = [
      { by: 'category', value: 'Door', ...look },
      { by: 'element', value: 'd1', ...look },
      { by: 'fact', value: 'EI 30', fact: { set: 'Doors', name: 'FireRating' }, ...look },
      { by: 'magic', value: 'x', ...look },
    ];
    expect(readSurfaceRules(old)).toEqual([
      { of: [{ is: 'category', value: 'Door' }], ...look },
      { of: [{ is: 'element', guids: ['d1'] }], ...look },
      { of: [{ is: 'fact', set: 'Doors', name: 'FireRating', value: 'EI 30' }], ...look },
    ]);
    const now = readSurfaceRules(old);
    expect(readSurfaceRules(JSON.parse(JSON.stringify(now)))).toEqual(now);
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
