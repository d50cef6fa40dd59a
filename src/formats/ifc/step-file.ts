import { open } from 'node:fs/promises';
import { ModelFileError } from '../model-file-error';

export interface StepHeader {
  schema: string;
  program: string;
  size: number;
}

const SCHEMAS = /^(IFC2X3|IFC4(X[1-3])?)(_\w+)?$/;

/**
 * Reads the header section of a STEP physical file (ISO 10303-21) and checks that the file is whole.
 *
 * @throws ModelFileError if the file breaks off, or its schema is not an IFC that can be read
 */
export async function readStepHeader(path: string, fileName: string): Promise<StepHeader> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const head = Buffer.alloc(Math.min(size, 64 * 1024));
    await file.read(head, 0, head.length, 0);
    const tail = Buffer.alloc(Math.min(size, 4096));
    await file.read(tail, 0, tail.length, size - tail.length);

    const header = head.toString('latin1');
    const schema = /FILE_SCHEMA\s*\(\s*\(\s*'([^']*)'/.exec(header)?.[1]?.toUpperCase();
    if (!tail.toString('latin1').includes('END-ISO-10303-21')) {
      throw new ModelFileError(
        'truncated',
        `“${fileName}” breaks off before its end: the closing line of the STEP file is missing. The export or the copy was cut short; export or copy it again.`,
      );
    }
    if (!schema)
      throw new ModelFileError('damaged', `“${fileName}” names no schema in its header, so it cannot be read as IFC.`);
    if (!SCHEMAS.test(schema)) {
      throw new ModelFileError(
        'unsupported',
        `“${fileName}” holds ${schema} data, not IFC. Yurta reads IFC2x3, IFC4 and IFC4x3.`,
      );
    }
    return { schema, size, program: programName(header) };
  } finally {
    await file.close();
  }
}

/** FILE_NAME's sixth argument is the originating system. */
function programName(header: string): string {
  const call = /FILE_NAME\s*\(([\s\S]*?)\)\s*;/.exec(header)?.[1] ?? '';
  const texts = [...call.matchAll(/'((?:[^']|'')*)'/g)].map((match) => match[1]!.replaceAll("''", "'"));
  return texts.at(-2) ?? '';
}
