import { readFile } from 'node:fs/promises';
import { basename, extname } from 'node:path';
import { Mesh, MeshStandardMaterial } from 'three';
import { PLYLoader } from 'three/addons/loaders/PLYLoader.js';
import type { BuildingModel } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import { pictureParts } from '../picture-parts';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { readScene } from '../three-scene/read-scene';

/**
 * Reads PLY, text or binary, with its vertex colours or the picture that a comment `TextureFile` names, as one element. The
 * format knows neither unit nor up axis.
 *
 * @throws ModelFileError if it breaks off, or is a cloud of points without faces
 */
export async function readPly(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { path, fileName } = source;
  const bytes = await readFile(path);
  const header = /^[\s\S]*?end_header/.exec(bytes.toString('latin1', 0, 64 * 1024))?.[0];
  if (!header)
    throw new ModelFileError('damaged', `“${fileName}” is a PLY file without a whole header. Export it again.`);
  const announced = Number(/^element\s+face\s+(\d+)/m.exec(header)?.[1] ?? 0);
  if (announced === 0)
    throw new ModelFileError('nothing-inside', `“${fileName}” holds points but no faces; Yurta shows surfaces.`);
  let geometry;
  try {
    geometry = new PLYLoader().parse(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.length));
  } catch (cause) {
    throw new ModelFileError(
      'truncated',
      `“${fileName}” is a PLY file that breaks off or does not keep to its header.`,
      {
        cause,
      },
    );
  }
  if ((geometry.index?.count ?? 0) < announced * 3)
    throw new ModelFileError(
      'truncated',
      `“${fileName}” announces ${announced} faces but holds fewer: the copy was cut short. Copy or export it again.`,
    );
  options.onProgress?.(0.6);
  const mesh = new Mesh(geometry, new MeshStandardMaterial({ color: '#d9d4c8' }));
  mesh.name = basename(fileName, extname(fileName));
  const builder = new ModelBuilder({
    format: 'PLY',
    schema: /^format\s+(\S+)/m.exec(header)?.[1] ?? '',
    fileName,
    program: /^comment\s+(?!TextureFile)(.+)$/im.exec(header)?.[1]?.trim() ?? '',
  });
  const named = /^comment\s+TextureFile\s+(.+?)\s*$/im.exec(header)?.[1];
  const texture = named && geometry.hasAttribute('uv') ? pictureParts(builder, source)(named) : undefined;
  readScene(builder, mesh, {
    paint: () => (texture === undefined ? undefined : { name: named!, color: [1, 1, 1, 1], texture }),
  });
  if (builder.model.placements.length === 0)
    throw new ModelFileError('damaged', `“${fileName}” refers to vertices that it does not hold. Export it again.`);
  settleFrame(builder.model, {}, 'Z', options.frame ?? {});
  return builder.model;
}
