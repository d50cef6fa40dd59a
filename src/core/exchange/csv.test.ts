import { csvParseRows } from 'd3-dsv';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Cell } from './comment-table';
import { csvOf } from './csv';

/** As another library reads it. */
const read = (text: string) => csvParseRows(text.replace(/^\ufeff/, ''));

const hostile = fc.oneof(
  fc.string({ unit: 'grapheme', maxLength: 30 }),
  fc
    .tuple(
      fc.constantFrom('', ' ', '\t', '\r\n', ';', '";"', '\n', '\0', '\ufeff'),
      fc.constantFrom('=', '+', '-', '@', '＝', '＋', '－', '＠', "'", '"'),
      fc.constantFrom("cmd|'/C calc'!A0", '1+1', 'HYPERLINK("https://a.example";"x")', 'SUM(A1,B2)', ''),
    )
    .map((parts) => parts.join('')),
);

describe('a table as CSV', () => {
  it('is read by another library as it was, apart from the apostrophe before what could be a formula', () => {
    fc.assert(
      fc.property(
        fc.array(fc.array(hostile, { minLength: 2, maxLength: 4 }), { minLength: 1, maxLength: 6 }),
        (rows) => {
          const back = read(csvOf(rows));
          expect(back).toHaveLength(rows.length);
          rows.forEach((row, i) => expect(back[i]!.map((cell) => cell.replace(/^'/, ''))).toEqual(row.map((cell) => cell.replace(/^'/, '')))); // prettier-ignore
        },
      ),
      { numRuns: 500 },
    );
  });

  it('has no cell that a spreadsheet could run, also where it splits at semicolons or tabs', () => {
    fc.assert(
      fc.property(hostile, hostile, (a, b) => {
        const text = csvOf([[a, b]]);
        for (const cell of read(text)[0]!) expect(cell).not.toMatch(/^\s*[=+\-@＝＋－＠]/);
        // Outside of quotes stand separators alone: whatever else splits, splits nothing of a text.
        const outside = text.replace(/^\ufeff/, '').replace(/"(?:[^"]|"")*"/g, '');
        expect(outside).toBe(',\r\n');
      }),
      { numRuns: 500 },
    );
  });

  it('keeps numbers as numbers, instants as instants, and nothing as nothing', () => {
    const at = new Date('2026-12-24T18:00:00Z');
    const rows: Cell[][] = [[-1.5, 0, 1e21, at, null, '-1.5']];
    expect(csvOf(rows)).toBe(`\ufeff-1.5,0,1e+21,2026-12-24T18:00:00.000Z,,"'-1.5"\r\n`);
  });
});
