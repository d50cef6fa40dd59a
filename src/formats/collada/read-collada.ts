import { stat } from 'node:fs/promises';
import { DOMParser } from '@xmldom/xmldom';
import { Loader, Texture } from 'three';
import { ColladaComposer } from 'three/addons/loaders/collada/ColladaComposer.js';
import { ColladaParser } from 'three/addons/loaders/collada/ColladaParser.js';
import type { BuildingModel } from '../building-model';
import { ModelBuilder } from '../model-builder';
import { ModelFileError } from '../model-file-error';
import { agreeFrame } from '../model-frame';
import { pictureParts } from '../picture-parts';
import { PLASTER } from '../plaster';
import type { ReadOptions } from '../read-model';
import type { SourceFile } from '../source-file';
import { readText } from '../text/text-file';
import { checkSteps } from './check-steps';
import { constantColours } from './constant-colours';
import { keepWhatShows } from './keep-what-shows';
import { plainTriangles } from './plain-triangles';
import { readScene } from './read-scene';

/** Beyond this the tree of an XML document does not fit into memory any more. */
const LARGEST = 300 * 1024 * 1024;

/**
 * Reads COLLADA (1.4, 1.5): nodes, materials with their pictures, cameras, unit and up axis.
 *
 * @throws ModelFileError if it is no whole XML, or shows no triangle
 */
export async function readCollada(source: SourceFile, options: ReadOptions): Promise<BuildingModel> {
  const { path, fileName } = source;
  if ((await stat(path)).size > LARGEST)
    throw new ModelFileError(
      'too-large',
      `“${fileName}” is longer than the 300 MB of XML that can be read. Export parts.`,
    );
  const { text, mended } = withPoints(await readText(path));
  options.onProgress?.(0.1);
  const { asset, scene, lost } = parse(text, fileName);
  options.onProgress?.(0.7);
  const builder = new ModelBuilder({
    format: 'COLLADA',
    schema: /<COLLADA[^>]*\bversion="([^"]+)"/.exec(text)?.[1] ?? '',
    fileName,
    program: /<authoring_tool>([^<]*)</.exec(text)?.[1]?.trim() ?? '',
  });
  if (mended) builder.model.warnings.push({ reason: 'numbers are written with decimal commas, read as points' });
  if (lost > 0)
    builder.model.warnings.push({
      reason: `${lost === 1 ? 'one thing is' : `${lost} things are`} named in the file but not there, and cannot be shown`,
    });
  readScene(builder, scene, {
    picture: pictureParts(builder, source),
    // The loader's own colour for what has no material is a loud one.
    paint: (name) => (name === Loader.DEFAULT_MATERIAL_NAME ? { name: '', color: PLASTER } : undefined),
  });
  if (builder.model.placements.length === 0)
    throw new ModelFileError('nothing-inside', `“${fileName}” is valid COLLADA but its scene shows no triangles.`);
  const up = asset.upAxis === 'Z_UP' ? 'Z' : 'Y';
  agreeFrame(builder.model, { metresPerUnit: asset.unit, up }, up, options.frame ?? {});
  return builder.model;
}

/** Some exporters write numbers as their country does, which the format does not allow but everybody means. */
function withPoints(text: string): { text: string; mended: boolean } {
  const mended = /<(unit[^>]*\bmeter="|float_array[^>]*>\s*-?)\d+,\d/.test(text);
  return { text: mended ? text.replace(/(\d),(?=\d)/g, '$1.') : text, mended };
}

/** The loader's parser asks for a page's XML reader; it gets one for as long as it works. */
function parse(text: string, fileName: string) {
  const shared = globalThis as { DOMParser?: unknown };
  const before = shared.DOMParser;
  const complaints: string[] = [];
  let lost = 0;
  shared.DOMParser = class {
    parseFromString(source: string, type: string) {
      const document = new DOMParser({
        onError: (level, message) => {
          if (level !== 'warning') complaints.push(message);
        },
      }).parseFromString(source, type);
      lost = keepWhatShows(document);
      checkSteps(document);
      plainTriangles(document);
      constantColours(document);
      return document;
    }
  };
  const pictures = { load: (url: string) => Object.assign(new Texture(), { name: url }) };
  try {
    // The parser cannot do without what every file should begin with.
    const whole = /<asset[\s/>]/.test(text) ? text : text.replace(/<COLLADA[^>]*>/, '$&<asset/>');
    const parsed = new ColladaParser().parse(whole);
    if (!parsed || complaints.length > 0) throw new Error(complaints[0] ?? 'it holds no COLLADA element');
    if (!/<instance_visual_scene[\s/>]/.test(text))
      throw new ModelFileError('nothing-inside', `“${fileName}” is COLLADA without a scene to show.`);
    const { scene } = new ColladaComposer(parsed.library, parsed.collada, pictures, pictures).compose();
    return { asset: parsed.asset, scene, lost };
  } catch (cause) {
    if (cause instanceof ModelFileError) throw cause;
    // What the loader stumbles over is told in its own terms, which say nothing to a reader.
    const detail =
      complaints.length > 0 || !(cause instanceof TypeError)
        ? (cause as Error).message.split('\n')[0]!
        : 'it leaves out what the format asks for';
    throw new ModelFileError('damaged', `“${fileName}” could not be read as COLLADA: ${detail}. Export it again.`, {
      cause,
    });
  } finally {
    shared.DOMParser = before;
  }
}
