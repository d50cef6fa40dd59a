import { StepLines } from '../step/step-lines';
import type { IfcLine } from './ifc-line';
import { plainSchema } from './schema-name';
import { SCHEMAS, type IfcSchema } from './schemas';

/**
 * The lines of one IFC file with the attribute names of its schema. Lines are read here, by their place in the file,
 * because the reader library takes four to seven times as long to hand over those of a large file.
 */
export class IfcFile {
  /** Numbers of lines that something refers to but that could not be read. */
  readonly damaged = new Set<number>();

  private readonly lines: StepLines;
  private readonly schema: IfcSchema;

  /** @param bytes the whole file */
  constructor(bytes: Buffer, schema: string) {
    this.lines = StepLines.of(bytes);
    this.schema = schemaOf(schema);
  }

  /**
   * A line by its number. One that is missing or cannot be decoded comes back without attributes and is noted in
   * `damaged`, so that one broken line does not cost the whole file.
   */
  line(expressId: number): IfcLine {
    const type = this.lines.type(expressId);
    const attributes = type === null ? undefined : this.schema.classes[type];
    try {
      if (type !== null && attributes) {
        const values = this.lines.values(expressId);
        const line: IfcLine = { expressID: expressId, type };
        for (let i = 1; i < attributes.length; i++) line[attributes[i]!] = values[i - 1] ?? null;
        return line;
      }
    } catch (error) {
      // What the line says makes no sense.
      if (!(error instanceof SyntaxError)) throw error;
    }
    this.damaged.add(expressId);
    return { expressID: expressId, type: 0 };
  }

  /** Express ids of all lines of a type; with `inherited`, of its subtypes too. */
  idsOfType(type: number, inherited = false): number[] {
    return this.lines.idsOfTypes(inherited ? withSubtypes(this.schema, type) : [type]);
  }

  linesOfType(type: number, inherited = false): IfcLine[] {
    return this.idsOfType(type, inherited).map((id) => this.line(id));
  }

  /** The class of a line in the schema's spelling, such as `IfcWallStandardCase`, even if the line is damaged; empty where it is missing. */
  className(line: IfcLine): string {
    const type = this.lines.type(line.expressID);
    return (type !== null && this.schema.classes[type]?.[0]) || '';
  }
}

/** The code of a class and those of all classes below it. */
export function withSubtypes({ subtypes }: IfcSchema, type: number): number[] {
  return [type, ...(subtypes[type] ?? [])];
}

/** The named schema; for an addendum or corrigendum that is not known by itself, the plain schema. */
export function schemaOf(name: string): IfcSchema {
  const named = (wanted: string) => SCHEMAS.find(({ names }) => names.includes(wanted));
  const schema = named(name) ?? named(plainSchema(name));
  if (!schema) throw new RangeError(`not a schema of IFC: ${name}`);
  return schema;
}
