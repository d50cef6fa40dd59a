/** A line of the file that others refer to, written as `#12`. */
export interface Ref {
  readonly id: number;
}

/** An enumeration value, written as `.NAME.`; `raw` values are written as they stand. */
export interface Token {
  readonly raw: string;
}

export type StepValue = Ref | Token | string | number | null | StepValue[];

/** A whole number; plain numbers are written as reals. */
export const int = (value: number): Token => ({ raw: String(value) });
export const token = (name: string): Token => ({ raw: `.${name}.` });
/** A value with its type named, as property values need it: `IFCLABEL('EI 60')`. */
export const typed = (type: string, value: StepValue): Token => ({ raw: `${type}(${stepText(value)})` });
export const DERIVED: Token = { raw: '*' };

/** Writes a STEP physical file (ISO 10303-21), one entity a line, numbered from 1. */
export class StepWriter {
  private readonly lines: string[] = [];

  add(entity: string, ...values: StepValue[]): Ref {
    const id = this.lines.length + 1;
    this.lines.push(`#${id}=${entity}(${values.map(stepText).join(',')});`);
    return { id };
  }

  /** The whole file. `time` is an ISO 8601 instant. */
  finish(schema: string, fileName: string, author: string, organisation: string, time: string): string {
    const q = (text: string) => stepText(text);
    return [
      'ISO-10303-21;',
      'HEADER;',
      "FILE_DESCRIPTION(('ViewDefinition [ReferenceView_V1.2]'),'2;1');",
      `FILE_NAME(${q(fileName)},${q(time)},(${q(author)}),(${q(organisation)}),'Yurta','Yurta','');`,
      `FILE_SCHEMA((${q(schema)}));`,
      'ENDSEC;',
      'DATA;',
      ...this.lines,
      'ENDSEC;',
      'END-ISO-10303-21;',
      '',
    ].join('\n');
  }
}

function stepText(value: StepValue): string {
  if (value === null) return '$';
  if (typeof value === 'number') return realText(value);
  if (typeof value === 'string') return `'${encodeText(value)}'`;
  if (Array.isArray(value)) return `(${value.map(stepText).join(',')})`;
  return 'raw' in value ? value.raw : `#${value.id}`;
}

function realText(value: number): string {
  if (!Number.isFinite(value)) throw new RangeError('STEP has no text for a number that is not finite');
  const rounded = Number(value.toFixed(6));
  const text = String(Object.is(rounded, -0) ? 0 : rounded);
  if (text.includes('e')) return text.replace('e', '.E').replace('..', '.');
  return text.includes('.') ? text : `${text}.`;
}

/** Doubles quotes and writes what is not ASCII as \X2\ hexadecimal, as ISO 10303-21 asks. */
function encodeText(text: string): string {
  return text
    .replaceAll('\\', '\\\\')
    .replaceAll("'", "''")
    .replace(/[^\x20-\x7e]+/g, (run) => {
      let hex = '';
      for (let i = 0; i < run.length; i++) hex += run.charCodeAt(i).toString(16).toUpperCase().padStart(4, '0');
      return `\\X2\\${hex}\\X0\\`;
    });
}
