import { open } from 'node:fs/promises';
import type { BuildingModel } from '../building-model';
import { ModelFileError } from '../model-file-error';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { Shapes } from './shapes';
import { readStepHeader } from './step-file';

/**
 * Reads an IFC file (2x3, 4, 4x3) into a building model. The thread that builds the shapes of a large file is under way
 * before the file is.
 *
 * @throws ModelFileError if the file breaks off, is no IFC or holds no product
 */
export async function readIfc({ path, fileName }: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const header = await readStepHeader(path, fileName);
  const bytes = new SharedArrayBuffer(header.size);
  const shapes = new Shapes({ bytes, schema: header.schema });
  try {
    const [{ IfcFile }, { shownClasses }, { ifcModel }] = await Promise.all([
      import('./ifc-file'),
      import('./product-classes'),
      import('./ifc-model'),
      readWhole(path, bytes),
    ]);
    shapes.begin(shownClasses(header.schema));
    return await ifcModel(new IfcFile(Buffer.from(bytes), header.schema), fileName, header, shapes, options);
  } catch (error) {
    // An error of a thread comes as a copy that has lost its class.
    if (!(error instanceof Error && error.name === 'RuntimeError')) throw error;
    throw new ModelFileError(
      'damaged',
      `“${fileName}” could not be read as IFC: its data section is damaged so badly that the reader stopped (${error.message}).`,
      { cause: error },
    );
  } finally {
    await shapes.end();
  }
}

/** Reads a file into memory that is as large as it. */
async function readWhole(path: string, into: SharedArrayBuffer): Promise<void> {
  const bytes = Buffer.from(into);
  const file = await open(path);
  try {
    let at = 0;
    while (at < bytes.length) {
      const { bytesRead } = await file.read(bytes, at, Math.min(bytes.length - at, 1 << 26), at);
      if (bytesRead === 0) break;
      at += bytesRead;
    }
  } finally {
    await file.close();
  }
}
