import { readFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import type { BuildingModel } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { agreeFrame } from '../model-frame';
import { translation } from '../near-positions';
import { PLASTER } from '../plaster';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { takeLines, textHead } from '../text/text-file';
import { isWholeBinaryStl, readBinaryStl } from './binary-stl';
import { joinFacets, type Facets } from './facets';
import { isBinaryStl, isTextStl } from './is-stl';
import { TextStl } from './text-stl';

/**
 * Reads STL, text or binary: one element, or one a solid where a text has several. The format knows neither unit nor up
 * axis nor materials; colours of facets are kept.
 *
 * @throws ModelFileError if it breaks off or holds no triangle
 */
export async function readStl({ path, fileName }: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  // Some binary files begin with “solid” too; they have exactly the length that they announce.
  const isText = !(await isBinaryStl(path)) && isTextStl(await textHead(path));
  const { solids, bad, isOpen } = await (isText ? readText(path, fileName, options) : readBinary(path, fileName));
  options.onProgress?.(0.8);
  const builder = new ModelBuilder({ format: 'STL', schema: isText ? 'text' : 'binary', fileName, program: '' });
  const stem = basename(fileName, extname(fileName));
  for (const solid of solids) {
    if (solid.positions.length === 0) continue;
    const element = builder.element({ name: (solids.length > 1 && solid.name) || stem, category: 'Object' });
    const { geometry, from } = joinFacets(solid);
    const material = builder.material({ name: '', color: PLASTER });
    builder.place(element, builder.geometry(geometry), material, translation(from));
  }
  const { model } = builder;
  if (model.placements.length === 0)
    throw new ModelFileError('nothing-inside', `“${fileName}” is an STL file without a triangle.`);
  model.productsWithShape = model.placements.length;
  if (bad > 0)
    model.warnings.push({
      reason: `corners of ${bad === 1 ? 'a facet' : `${bad} facets`} are no numbers; what they would show is left out`,
    });
  if (isOpen) model.warnings.push({ reason: 'the file ends without “endsolid”; check that nothing is missing' });
  agreeFrame(model, {}, 'Z', options.frame ?? {});
  return model;
}

interface Read {
  solids: Facets[];
  bad: number;
  /** Whether the end was not said. */
  isOpen: boolean;
}

async function readText(path: string, fileName: string, options: ReadOptions): Promise<Read> {
  const text = new TextStl();
  await takeLines(
    path,
    (line) => text.take(line),
    (share) => options.onProgress?.(0.7 * share),
  );
  const end = text.end();
  if (end === 'broken') throw breaksOff(fileName);
  return { solids: text.solids, bad: text.bad, isOpen: end === 'open' };
}

async function readBinary(path: string, fileName: string): Promise<Read> {
  const bytes = await readFile(path);
  if (!isWholeBinaryStl(bytes)) throw breaksOff(fileName);
  const solid = readBinaryStl(bytes);
  return { solids: [solid], bad: solid.bad, isOpen: false };
}

function breaksOff(fileName: string): ModelFileError {
  return new ModelFileError(
    'truncated',
    `“${fileName}” is an STL file that breaks off before its end. Copy or export it again.`,
  );
}
