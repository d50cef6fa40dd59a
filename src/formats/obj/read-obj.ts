import type { BuildingModel } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { agreeFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { takeLines } from '../text/text-file';
import { MaterialLibrary } from './material-library';
import { ObjLines } from './obj-lines';

/**
 * Reads a Wavefront OBJ with its materials (MTL) and their pictures, piece by piece. Objects and groups become elements;
 * the format knows neither unit nor up axis. Lines that make no sense are left out and told of.
 *
 * @throws ModelFileError if it holds no face
 */
export async function readObj(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { path, fileName } = source;
  const builder = new ModelBuilder({ format: 'OBJ', schema: '', fileName, program: '' });
  const materials = new MaterialLibrary(source, builder);
  const lines = new ObjLines(builder, materials);
  await takeLines(
    path,
    (line) => lines.take(line),
    (share) => options.onProgress?.(0.9 * share),
  );
  lines.end();
  const { placements, warnings } = builder.model;
  if (placements.length === 0) {
    const why = warnings
      .slice(0, 3)
      .map(({ reason }) => reason)
      .join('; ');
    throw new ModelFileError(
      'nothing-inside',
      `“${fileName}” is an OBJ file without a single face${why === '' ? '' : `: ${why}`}.`,
    );
  }
  agreeFrame(builder.model, {}, 'Y', options.frame ?? {});
  return builder.model;
}
