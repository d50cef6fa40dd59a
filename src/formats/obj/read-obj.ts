import { readFile, stat } from 'node:fs/promises';
import { Mesh } from 'three';
import { MTLLoader } from 'three/addons/loaders/MTLLoader.js';
import { OBJLoader } from 'three/addons/loaders/OBJLoader.js';
import type { BuildingModel, SurfaceMaterial } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { settleFrame } from '../model-frame';
import { pictureParts } from '../picture-parts';
import type { ReadOptions } from '../read-model';
import { findPart, type SourceFile } from '../source-file';
import { readScene } from '../three-scene/read-scene';

/** What JavaScript can hold as one text. */
const LONGEST_TEXT = 500 * 1024 * 1024;

/**
 * Reads a Wavefront OBJ with its materials (MTL) and their pictures. Objects and groups become elements. The format knows neither unit
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
  const materials = await readMaterials(source, text, builder);
  const scene = new OBJLoader().parse(text);
  // Where the file has no normals the loader makes flat ones up; whether a surface is curved is better told later.
  if (!/^vn\s/m.test(text)) scene.traverse((part) => part instanceof Mesh && part.geometry.deleteAttribute('normal'));
  options.onProgress?.(0.8);
  readScene(builder, scene, 'Object', { paint: (name) => materials.get(name) });
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
  builder: ModelBuilder,
): Promise<Map<string, SurfaceMaterial>> {
  const materials = new Map<string, SurfaceMaterial>();
  const picture = pictureParts(builder, source);
  for (const [, name] of text.matchAll(/^mtllib\s+(.+?)\s*$/gm)) {
    const path = findPart(source, name!);
    if (!path) {
      builder.model.warnings.push({
        reason: `the material file “${name}” did not come along, so its colours are missing`,
      });
      continue;
    }
    const { materialsInfo } = new MTLLoader().parse(await readFile(path, 'utf8'), '');
    for (const [key, info] of Object.entries(materialsInfo)) {
      const [r, g, b] = (info.kd ?? [0.8, 0.8, 0.8]).map((part) => Math.min(1, Math.max(0, Number(part) || 0)));
      const opacity = info.d !== undefined ? Number(info.d) : info.tr !== undefined ? 1 - Number(info.tr) : 1;
      const texture = typeof info.map_kd === 'string' ? picture(withoutOptions(info.map_kd)) : undefined;
      materials.set(key, {
        name: key,
        // A picture takes the colour's place: many programs write black beside it.
        color: [
          ...(texture === undefined ? ([r!, g!, b!] as const) : ([1, 1, 1] as const)),
          Number.isFinite(opacity) ? Math.min(1, Math.max(0, opacity)) : 1,
        ],
        ...(texture !== undefined && { texture, cutOut: typeof info.map_d === 'string' }),
      });
    }
  }
  return materials;
}

/** A map's file name without what may stand before it, such as `-s 1 1 1` or `-clamp on`. */
function withoutOptions(map: string): string {
  return map.replace(/^(?:-\w+(?:\s+(?:[-+.\d]+|on|off|[rgbmlz]))+\s+)+/, '').trim();
}
