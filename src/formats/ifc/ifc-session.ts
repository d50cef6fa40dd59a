import { closeSync, openSync, readSync } from 'node:fs';
import { IfcAPI, LogLevel } from 'web-ifc';
import { ModelFileError } from '../model-file-error';
import type { IfcLine } from './ifc-line';
import type { StepHeader } from './step-file';

/**
 * One open IFC file in the reader library, with the library's loose types made exact. The file is read in pieces, so
 * that it never lies in the JavaScript heap as a whole.
 */
export class IfcSession {
  /** Numbers of lines that something refers to but that could not be read. */
  readonly damaged = new Set<number>();

  private constructor(
    readonly api: IfcAPI,
    readonly model: number,
  ) {}

  /** @throws ModelFileError if the library cannot make sense of the file */
  static async open(path: string, fileName: string, header: StepHeader): Promise<IfcSession> {
    const api = new IfcAPI();
    await api.Init();
    api.SetLogLevel(LogLevel.LOG_LEVEL_OFF);
    const descriptor = openSync(path, 'r');
    try {
      const model = api.OpenModelFromCallback(
        (offset: number, length: number) => {
          const piece = Buffer.alloc(length);
          const read = readSync(descriptor, piece, 0, length, offset);
          if (offset === 0) plainSchema(piece, header.schema);
          return piece.subarray(0, read);
        },
        { COORDINATE_TO_ORIGIN: false, CIRCLE_SEGMENTS: 16 },
      );
      if (model < 0) throw new Error('the library refused the file');
      return new IfcSession(api, model);
    } catch (cause) {
      throw new ModelFileError('damaged', `“${fileName}” could not be read as IFC: its data section is damaged.`, {
        cause,
      });
    } finally {
      closeSync(descriptor);
    }
  }

  /**
   * A line by its number. One that is missing or cannot be decoded comes back without attributes and is noted in
   * `damaged`, so that one broken line does not cost the whole file.
   */
  line(expressId: number): IfcLine {
    try {
      const line = this.api.GetLine(this.model, expressId) as IfcLine | undefined;
      if (line) return line;
    } catch (error) {
      if (error instanceof WebAssembly.RuntimeError) throw error; // the library's memory is gone: nothing more can be read
    }
    this.damaged.add(expressId);
    return { expressID: expressId, type: 0 };
  }

  /** Express ids of all lines of a type; with `inherited`, of its subtypes too. */
  idsOfType(type: number, inherited = false): number[] {
    return [...this.api.GetLineIDsWithType(this.model, type, inherited)];
  }

  linesOfType(type: number, inherited = false): IfcLine[] {
    return this.idsOfType(type, inherited).map((id) => this.line(id));
  }

  /** The class of a line in the schema's spelling, such as `IfcWallStandardCase`. */
  className(line: IfcLine): string {
    return line.constructor.name;
  }

  close(): void {
    this.api.Dispose();
  }
}

/** The schemas that the library knows by name. */
const KNOWN = /^(IFC2X3|IFC4|IFC4X1|IFC4X2|IFC4X3|IFC4X3_ADD[12]|IFC4X3_RC[1-4])$/;

/** Writes the plain schema in place of an addendum's or corrigendum's name, such as IFC4 for IFC4_ADD2, in the header. */
function plainSchema(head: Buffer, schema: string): void {
  if (KNOWN.test(schema)) return;
  const at = head.toString('latin1').toUpperCase().indexOf(`'${schema}'`);
  if (at >= 0) head.write(`'${schema.replace(/_.*$/, '')}'`.padEnd(schema.length + 2), at, 'latin1');
}
