import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { IFCLABEL, IFCLENGTHMEASURE } from 'web-ifc';
import { readStepValues, type StepValue } from './step-values';

const read = (text: string) => readStepValues(Buffer.from(text, 'latin1'), 0);
/** What the standard's encodings stand for, by kind as the reader library numbers them. */
const text = (value: string) => ({ type: 1, value });
const enumeration = (value: string | boolean | null) => ({ type: 3, value });
const real = (value: number) => ({ type: 4, value });
const reference = (value: number) => ({ type: 5, value });
const integer = (value: number) => ({ type: 10, value });

describe('values of a STEP line', () => {
  it('are read as ISO 10303-21 writes them', () => {
    expect(read('(12,-3,+7,0)')).toEqual([12, -3, 7, 0].map(integer));
    expect(read('(1.,-32.178E+02,0.25,1.5E-3,2.E2)')).toEqual([1, -3217.8, 0.25, 0.0015, 200].map(real));
    expect(read("('CAT','Don''t','','S\\S\\Drger','see \\X\\A7 4.1','\\X2\\03B103B2\\X0\\')")).toEqual(
      ['CAT', 'Don’t'.replace('’', "'"), '', 'SÄrger', 'see § 4.1', 'αβ'].map(text),
    );
    expect(read('(.STEEL.,.T.,.F.,.U.)')).toEqual(['STEEL', true, false, null].map(enumeration));
    expect(read('(#16,#1,$,"0FF")')).toEqual([reference(16), reference(1), null, { type: 11, value: '0FF' }]);
    expect(read('()')).toEqual([]);
    expect(read('((1,2),(),(#3,(4.)))')).toEqual([[integer(1), integer(2)], [], [reference(3), [real(4)]]]);
  });

  it('say their type by the number that the reader library has for it', () => {
    expect(read("(IFCLABEL('Oak'),IFCLENGTHMEASURE(2.5),IFCLABEL($))")).toEqual([
      { type: 2, typecode: IFCLABEL, value: 'Oak' },
      { type: 2, typecode: IFCLENGTHMEASURE, value: 2.5 },
      { type: 2, typecode: IFCLABEL, value: null },
    ]);
  });

  it('may stand on many lines with comments between them; those that a subtype derives are left out', () => {
    expect(read("( /* first */ 1 ,\r\n\t'a, (b) /* c */'\n, *, * , 2. /*)*/ )")).toEqual([
      integer(1),
      text('a, (b) /* c */'),
      real(2),
    ]);
  });

  it.each([
    ['no list', '12'],
    ['a list without end', '(1,2'],
    ['a text without end', "('abc)"],
    ['a binary without end', '("0FF)'],
    ['nothing between commas', '(1,,2)'],
    ['a comma at the end', '(1,)'],
    ['a sign without a number', '(-)'],
    ['a reference without a number', '(#)'],
    ['an enumeration with a blank', '(.STE EL.)'],
    ['two values of one type', '(IFCREAL(1.,2.))'],
    ['a type without a value', '(IFCREAL)'],
    ['something unknown', '(?)'],
    ['a list that is too deep', `${'('.repeat(200)}${')'.repeat(200)}`],
  ])('make no sense with %s', (_, line) => {
    expect(() => read(line)).toThrow(SyntaxError);
  });

  it('give back every number as JavaScript reads it', () => {
    const decimal = fc
      .tuple(fc.boolean(), fc.bigInt({ min: 0n, max: 10n ** 20n }), fc.nat(20))
      .map(([minus, digits, places]) => {
        const padded = digits.toString().padStart(places + 1, '0');
        return `${minus ? '-' : ''}${padded.slice(0, padded.length - places)}.${padded.slice(padded.length - places)}`;
      });
    fc.assert(
      fc.property(decimal, (written) => {
        expect(read(`(${written})`)).toEqual([real(Number(written))]);
      }),
    );
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (value) => {
        const [mantissa, exponent] = value.toExponential().split('e');
        const written = `${mantissa!.includes('.') ? mantissa : `${mantissa}.`}E${exponent}`;
        // -0 is written without its sign.
        expect(read(`(${written})`)).toEqual([real(value + 0)]);
      }),
    );
  });

  it('come back from any nesting of lists, references and texts', () => {
    const { value } = fc.letrec<{ value: StepValue }>((tie) => ({
      value: fc.oneof(
        { depthSize: 'small' },
        fc.constant(null),
        fc.nat().map(integer),
        fc.nat().map(reference),
        fc.string({ unit: 'grapheme-ascii' }).map(text),
        fc.array(tie('value'), { maxLength: 4 }),
      ),
    }));
    const write = (one: StepValue): string => {
      if (one === null) return '$';
      if (Array.isArray(one)) return `(${one.map(write).join(',')})`;
      if (one.type === 5) return `#${String(one.value)}`;
      return one.type === 1
        ? `'${String(one.value).replaceAll('\\', '\\\\').replaceAll("'", "''")}'`
        : String(one.value);
    };
    fc.assert(
      fc.property(fc.array(value, { maxLength: 5 }), (values) => {
        expect(read(write(values))).toEqual(values);
      }),
    );
  });
});
