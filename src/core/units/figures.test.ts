import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { angleText, areaText, FIRST_READING, FRACTIONS, lengthText, type Reading } from './figures';

const reading = (change: Partial<Reading>): Reading => ({ ...FIRST_READING, ...change });
const feet = (fraction: number) => reading({ unit: 'ft', fraction });

describe('lengths as people read them', () => {
  it('are metric with the decimals that one likes', () => {
    expect(lengthText(3.4527, reading({}))).toBe('3.453 m');
    expect(lengthText(3.4527, reading({ unit: 'cm' }))).toBe('345.3 cm');
    expect(lengthText(3.4527, reading({ unit: 'mm' }))).toBe('3453 mm');
    expect(lengthText(3.4527, reading({ decimals: { ...FIRST_READING.decimals, m: 1 } }))).toBe('3.5 m');
    expect(lengthText(-0.00001, reading({}))).toBe('0.000 m');
    expect(lengthText(-1.5, reading({}))).toBe('−1.500 m');
  });

  it('are feet, inches and fractions in lowest terms', () => {
    expect(lengthText(0.3048 * 11 + 0.0254 * 3.875, feet(16))).toBe('11′ 3 7/8″');
    expect(lengthText(0.3048 * 2, feet(16))).toBe('2′ 0″');
    expect(lengthText(0.0254 * 0.5, feet(16))).toBe('1/2″');
    expect(lengthText(0.0254 * 11.99, feet(8))).toBe('1′ 0″'); // rounded up into a foot
    expect(lengthText(-0.0254 * 5.25, feet(4))).toBe('−5 1/4″');
    expect(lengthText(0, feet(64))).toBe('0″');
  });

  it('in feet are never farther from the length than half of the fraction', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 500, noNaN: true }), fc.constantFrom(...FRACTIONS), (metres, fraction) => {
        const read = /^(?:(\d+)′ )?(?:(\d+)(?= |″))?(?: ?(\d+)\/(\d+))?″$/.exec(lengthText(metres, feet(fraction)))!;
        const [, ft = '0', inches = '0', over = '0', under = '1'] = read;
        const back = Number(ft) * 0.3048 + (Number(inches) + Number(over) / Number(under)) * 0.0254;
        expect(Number(inches)).toBeLessThan(12);
        expect(Math.abs(back - metres)).toBeLessThanOrEqual(0.0254 / fraction / 2 + 1e-9);
      }),
    );
  });

  it('go with areas and angles', () => {
    expect(areaText(12.345, reading({}))).toBe('12.35 m²');
    expect(areaText(0.3048 ** 2 * 10, feet(16))).toBe('10.0 ft²');
    expect(angleText(Math.PI / 3)).toBe('60.0°');
  });
});
