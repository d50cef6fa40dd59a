import { stringify } from 'csv-stringify/browser/esm/sync';
import type { Cell } from './comment-table';

/**
 * With what a text begins that a spreadsheet may take for a formula, also after blanks and in their full width (OWASP, CSV
 * injection).
 */
const FORMULA = /^[\s\0\ufeff]*[=+\-@\uff1d\uff0b\uff0d\uff20]|^[\t\r\n]/;

/**
 * A table as CSV (RFC 4180), with a byte order mark so that spreadsheets read it as UTF-8. Texts stand in quotes, so that
 * nothing in them ends a cell wherever another separator is usual; what could be a formula gets an apostrophe before it, which
 * spreadsheets take for "this is a text". Numbers stay numbers, also negative ones; instants are written by ISO 8601.
 */
export function csvOf(rows: readonly (readonly Cell[])[]): string {
  return stringify(
    rows.map((row) => row.map((cell) => (typeof cell === 'string' ? harmless(cell) : cell))),
    {
      bom: true,
      record_delimiter: 'windows',
      quoted_string: true,
      cast: { date: (at) => at.toISOString(), number: String },
    },
  );
}

function harmless(text: string): string {
  return FORMULA.test(text) ? `'${text}` : text;
}
