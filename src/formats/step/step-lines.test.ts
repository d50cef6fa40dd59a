import fc from 'fast-check';
import { IfcAPI } from 'web-ifc';
import { describe, expect, it } from 'vitest';
import { architectureIfc } from '@/demo/library/architecture';
import { StepLines } from './step-lines';

const text = (data: string) =>
  Buffer.from(`ISO-10303-21;
HEADER;
FILE_NAME('#1=X(1);','',(''),(''),'','','');
ENDSEC;
DATA;
${data}
ENDSEC;
END-ISO-10303-21;
`);
const lines = (data: string) => StepLines.of(text(data));
const one = (values: string) => lines(`#1=A(${values});`).values(1);
/** CRC-32 of “A”, as any table of checksums has it. */
const TYPE_A = 0xd3d99e8b;

describe('lines of a STEP file', () => {
  it('are found however they are laid out', () => {
    const found = lines(
      "#3=A(1);#1 = a\n(\n2)\n; /* #9=A(9); */ #7=B('; #8=A(8);', 'it''s; #6=A(6);') ; #4=A/* ; */(4);",
    );
    expect(found.idsOfTypes([TYPE_A])).toEqual([1, 3, 4]);
    expect(found.count).toBe(4);
    expect(found.values(7)).toEqual([
      { type: 1, value: '; #8=A(8);' },
      { type: 1, value: "it's; #6=A(6);" },
    ]);
    expect(found.type(9)).toBeNull();
  });

  it('count once where a number is there twice, the first of them', () => {
    const found = lines('#5=A(1);\n#2=A(2);\n#5=A(3);');
    expect(found.idsOfTypes([TYPE_A])).toEqual([2, 5]);
    expect(found.values(5)).toEqual([{ type: 10, value: 1 }]);
  });

  it('that make no sense are told of, and do not cost the others', () => {
    const found = lines("#1=A(1,,2);\n#2=A((1);\n#3=A(.NOT CLOSED);\n#4=A(@);\n#5=A('fine');\n#6=A;\n#7=A(1");
    for (const id of [1, 2, 3, 4, 7]) expect(() => found.values(id), `#${id}`).toThrow(SyntaxError);
    expect(() => found.values(99)).toThrow(/no line #99/);
    expect(found.values(5)).toEqual([{ type: 1, value: 'fine' }]);
  });

  it('nest no deeper than the stack holds', () => {
    expect(() => one(`${'('.repeat(100_000)}${')'.repeat(100_000)}`)).toThrow(SyntaxError);
  });
});

describe('values', () => {
  it('of every kind', () => {
    expect(one('$,*,#12,.ENUM.,.T.,.F.,.U.,(),(1,(2)),"0A3",A(\'x\'),A(.T.),A((1,2)),A($)')).toEqual([
      null, // and nothing for the derived one
      { type: 5, value: 12 },
      { type: 3, value: 'ENUM' },
      { type: 3, value: true },
      { type: 3, value: false },
      { type: 3, value: null },
      [],
      [{ type: 10, value: 1 }, [{ type: 10, value: 2 }]],
      { type: 11, value: '0A3' },
      { type: 2, typecode: TYPE_A, value: 'x' },
      { type: 2, typecode: TYPE_A, value: true },
      {
        type: 2,
        typecode: TYPE_A,
        value: [
          { type: 10, value: 1 },
          { type: 10, value: 2 },
        ],
      },
      { type: 2, typecode: TYPE_A, value: null },
    ]);
  });

  it('are the very numbers that were written', () => {
    fc.assert(
      fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), fc.integer(), (real, whole) => {
        const written = /[.e]/.test(String(real)) ? String(real).toUpperCase() : `${real}.`;
        const [a, b] = one(`${written},${whole}`) as { value: number }[];
        return Object.is(a!.value, Number(written)) && b!.value === whole;
      }),
    );
    expect(one('1.,-.5,+2,1.E-3,1234567890.12345678')).toMatchObject(
      [1, -0.5, 2, 0.001, 1234567890.12345678].map((value) => ({ value })),
    );
  });
});

describe('texts', () => {
  const decoded = (bytes: string | Uint8Array) => {
    const [before, after] = text("#1=A('@');").toString().split('@') as [string, string];
    const whole = Buffer.concat([Buffer.from(before), Buffer.from(bytes), Buffer.from(after)]);
    return (StepLines.of(whole).values(1) as { value: string }[])[0]!.value;
  };

  it('are decoded from every way in which the standard writes them', () => {
    expect(decoded(String.raw`S\X2\00E900DF\X0\ \X\E9 \S\d \X4\0001F33F\X0\ it''s C:\\temp`)).toBe(
      "Séß é ä 🌿 it's C:\\temp",
    );
    expect(decoded(String.raw`\PB\\S\c\PA\\S\c`)).toBe('ăã'); // ISO 8859-2 and -1, byte E3
  });

  it('keep what programs write against the standard', () => {
    expect(decoded(String.raw`C:\Users\x`)).toBe('C:\\Users\\x');
    expect(decoded('Wände')).toBe('Wände');
    expect(decoded(Uint8Array.of(0x57, 0xe4, 0x6e, 0x64, 0x65))).toBe('Wände');
  });
});

it('agrees with the reader library on every line of the demo’s architecture', async () => {
  const bytes = Buffer.from(architectureIfc(1));
  const ours = StepLines.of(bytes);
  const api = new IfcAPI();
  await api.Init();
  const model = api.OpenModel(bytes);
  const ids = [...api.GetAllLines(model)];
  expect(ours.count).toBe(ids.length);
  /** The library hands reals over as they are written. */
  const settled = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(settled);
    if (typeof value !== 'object' || value === null) return value ?? null;
    const { type, typecode, value: inner } = value as { type: number; typecode?: number; value: unknown };
    const isNumber = type === 4 || (type === 2 && typeof inner === 'string' && /^-?\d+\.\d*(E-?\d+)?$/.test(inner));
    return [type, typecode, isNumber ? Number(inner) : settled(inner)];
  };
  for (const id of ids) {
    const raw = api.GetRawLineData(model, id) as { type: number; arguments: unknown[] };
    expect([id, ours.type(id), settled(ours.values(id))]).toEqual([id, raw.type, settled(raw.arguments)]);
  }
  api.Dispose();
});
