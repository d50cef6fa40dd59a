import { readFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import type { BuildingModel } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { agreeFrame } from '../model-frame';
import { translation } from '../near-positions';
import { pictureParts } from '../picture-parts';
import { PLASTER } from '../plaster';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { readPlyHeader, type PlyHeader } from './ply-header';
import { PlySurface } from './ply-surface';
import { plyValues } from './ply-values';

const PICTURE = /^TextureFile\s+(.+)$/i;

/**
 * Reads PLY, text or binary, as one element: polygons and strips, colours of vertices or faces, and the picture that a
 * comment `TextureFile` names. The format knows neither unit nor up axis.
 *
 * @throws ModelFileError if it breaks off, or is a cloud of points without faces
 */
export async function readPly(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { path, fileName } = source;
  const bytes = await readFile(path);
  const header = readPlyHeader(bytes);
  if (!header)
    throw new ModelFileError('damaged', `“${fileName}” is a PLY file without a whole header. Export it again.`);
  const faces = header.elements.filter(({ name }) => name === 'face' || name === 'tristrips');
  if (faces.every(({ count }) => count === 0))
    throw new ModelFileError('nothing-inside', `“${fileName}” holds points but no faces; Yurta shows surfaces.`);
  const surface = readSurface(bytes, header, fileName);
  options.onProgress?.(0.6);
  const found = surface.geometry();
  if (!found)
    throw new ModelFileError('damaged', `“${fileName}” refers to vertices that it does not hold. Export it again.`);
  const builder = new ModelBuilder({
    format: 'PLY',
    schema: header.format,
    fileName,
    program: header.comments.find((comment) => !PICTURE.test(comment)) ?? '',
  });
  const name = header.comments.map((comment) => PICTURE.exec(comment)?.[1]).find(Boolean);
  const texture = name && surface.isPictured ? pictureParts(builder, source)(name) : undefined;
  const element = builder.element({ name: basename(fileName, extname(fileName)), category: 'Object' });
  const material = builder.material(
    texture === undefined ? { name: '', color: PLASTER } : { name: name!, color: [1, 1, 1, 1], texture },
  );
  builder.place(element, builder.geometry(found.geometry), material, translation(found.from));
  const { model } = builder;
  model.productsWithShape = 1;
  if (surface.bad > 0)
    model.warnings.push({
      reason: `${surface.bad === 1 ? 'a face names' : `${surface.bad} faces name`} vertices that are not there, or places that are no numbers, and cannot be shown`,
    });
  agreeFrame(model, {}, 'Z', options.frame ?? {});
  return model;
}

function readSurface(bytes: Buffer, header: PlyHeader, fileName: string): PlySurface {
  const surface = new PlySurface();
  try {
    surface.read(header, plyValues(bytes, header));
  } catch (cause) {
    if (!(cause instanceof RangeError)) throw cause;
    throw new ModelFileError(
      'truncated',
      `“${fileName}” is a PLY file that breaks off or does not keep to its header. Copy or export it again.`,
      { cause },
    );
  }
  return surface;
}
