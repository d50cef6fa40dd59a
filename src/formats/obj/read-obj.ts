import { readFile, stat } from 'node:fs/promises';
import { MTLLoader } from 'three/addons/loaders/MTLLoader.js';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import type { BuildingModel, SurfaceMaterial } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import type { ReadOptions } from '../read-model';
import { findPart, type SourceFile } from '../source-file';
import { readScene } from '../three-scene/read-scene';

/** What JavaScript can hold as one text. */
const LONGEST_TEXT = 500 * 1024 * 1024;

/**
 * Reads a Wavefront OBJ with its materials (MTL). Objects and groups become elements. The format knows neither unit
 * nor up axis.
 *
 * @throws ModelFileError if it holds no face or numbers that make no sense
 */
export async function readObj(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { path, fileName } = source;
  if ((await stat(path)).size > LONGEST_TEXT)
    throw new ModelFileError(
      'too-large',
      `“${fileName}” is longer than the 500 MB of text that can be read. Export parts.`,
    );
  const text = await readFile(path, 'utf8');
  options.onProgress?.(0.2);
  const builder = new ModelBuilder({ format: 'OBJ', schema: '', fileName, program: programOf(text) });
  const materials = await readMaterials(source, text, builder.model);
  const scene = new OBJLoader().parse(text);
  options.onProgress?.(0.8);
  readScene(builder, scene, 'Object', (name) => materials.get(name));
  if (builder.model.placements.length === 0)
    throw new ModelFileError('nothing-inside', `“${fileName}” is an OBJ file without a single face.`);
  settleFrame(builder.model, {}, 'Y', options.frame ?? {});
  return builder.model;
}

/** The first comment mostly names the program. */
function programOf(text: string): string {
  return (/^#\s*(.+)$/m.exec(text.slice(0, 2000))?.[1] ?? '').trim().slice(0, 120);
}

async function readMaterials(
  source: SourceFile,
  text: string,
  model: BuildingModel,
): Promise<Map<string, SurfaceMaterial>> {
  const materials = new Map<string, SurfaceMaterial>();
  for (const [, name] of text.matchAll(/^mtllib\s+(.+?)\s*$/gm)) {
    const path = findPart(source, name!);
    if (!path) {
      model.warnings.push({ reason: `the material file “${name}” did not come along, so its colours are missing` });
      continue;
    }
    const { materialsInfo } = new MTLLoader().parse(await readFile(path, 'utf8'), '');
    for (const [key, info] of Object.entries(materialsInfo)) {
      const [r, g, b] = (info.kd ?? [0.8, 0.8, 0.8]).map((part) => Math.min(1, Math.max(0, Number(part) || 0)));
      const opacity = info.d !== undefined ? Number(info.d) : info.tr !== undefined ? 1 - Number(info.tr) : 1;
      materials.set(key, {
        name: key,
        color: [r!, g!, b!, Number.isFinite(opacity) ? Math.min(1, Math.max(0, opacity)) : 1],
      });
    }
  }
  return materials;
}
