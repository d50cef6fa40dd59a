import { FromRawLineData, InheritanceDef, SchemaNames } from 'web-ifc';
import { StepLines } from '../step/step-lines';
import type { StepValue } from '../step/step-values';
import type { IfcLine } from './ifc-line';

type LineMaker = (values: StepValue[]) => IfcLine;

/** The library's tables, which it exports without types: by number of the schema, then by code of the type. */
const makers = FromRawLineData as Record<number, Record<number, LineMaker>>;
const subtypes = InheritanceDef as Record<number, Record<number, number[] | undefined>>;

/**
 * The lines of one IFC file with the attribute names of its schema. Lines are read here, by their place in the file,
 * because the reader library takes four to seven times as long to hand over those of a large file; its schema classes serve all the same.
 */
export class IfcFile {
  /** Numbers of lines that something refers to but that could not be read. */
  readonly damaged = new Set<number>();

  private readonly lines: StepLines;
  /** Number of the schema in the library's tables. */
  private readonly schema: number;

  /** @param bytes the whole file */
  constructor(bytes: Buffer, schema: string) {
    this.lines = StepLines.of(bytes);
    this.schema = schemaNumber(schema);
  }

  /**
   * A line by its number. One that is missing or cannot be decoded comes back without attributes and is noted in
   * `damaged`, so that one broken line does not cost the whole file.
   */
  line(expressId: number): IfcLine {
    const type = this.lines.type(expressId);
    const make = type === null ? undefined : makers[this.schema]![type];
    try {
      if (make) {
        const line = make(this.lines.values(expressId));
        line.expressID = expressId;
        return line;
      }
    } catch (error) {
      // What the line says makes no sense, or the schema's classes make nothing of it.
      if (!(error instanceof SyntaxError || error instanceof TypeError)) throw error;
    }
    this.damaged.add(expressId);
    return { expressID: expressId, type: 0 };
  }

  /** Express ids of all lines of a type; with `inherited`, of its subtypes too. */
  idsOfType(type: number, inherited = false): number[] {
    return this.lines.idsOfTypes([type, ...((inherited && subtypes[this.schema]![type]) || [])]);
  }

  linesOfType(type: number, inherited = false): IfcLine[] {
    return this.idsOfType(type, inherited).map((id) => this.line(id));
  }

  /** The class of a line in the schema's spelling, such as `IfcWallStandardCase`. */
  className(line: IfcLine): string {
    return line.constructor.name;
  }
}

/** The schema's number in the library's tables; of addenda and corrigenda, that of the plain schema. */
function schemaNumber(schema: string): number {
  const numberOf = (name: string) => SchemaNames.findIndex((names) => names?.includes(name));
  const exact = numberOf(schema);
  return exact >= 0 ? exact : numberOf(plainSchema(schema));
}

/** IFC4 for IFC4_ADD2 and the like. */
export function plainSchema(schema: string): string {
  return schema.replace(/_.*$/, '');
}
