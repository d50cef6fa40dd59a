import { open, readFile } from 'node:fs/promises';
import { Logger, NodeIO, type Document, type JSONDocument } from '@gltf-transform/core';
import {
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  EXTTextureAVIF,
  EXTTextureWebP,
  KHRDracoMeshCompression,
  KHRMaterialsPBRSpecularGlossiness,
  KHRMaterialsTransmission,
  KHRMeshQuantization,
  KHRTextureBasisu,
  KHRTextureTransform,
} from '@gltf-transform/extensions';
import draco3d from 'draco3dgltf';
import { MeshoptDecoder } from 'meshoptimizer';
import { ModelFileError } from '../model-file-error';
import { findPart, type SourceFile } from '../source-file';
import { decodeText } from '../text/text-file';
import { Features } from './features';

/** What changes shapes, places, base colours or what is seen through. Whatever else a file uses is passed over: it need not even be right. */
const EXTENSIONS = [
  EXTMeshGPUInstancing,
  EXTMeshoptCompression,
  EXTTextureAVIF,
  EXTTextureWebP,
  KHRDracoMeshCompression,
  KHRMaterialsPBRSpecularGlossiness,
  KHRMaterialsTransmission,
  KHRMeshQuantization,
  KHRTextureBasisu,
  KHRTextureTransform,
];

/** What changes light, gloss or movement alone: a file can do without it here, whatever it says. */
const NO_LOSS = /^(KHR|EXT)_(materials|lights|animation|xmp)_/;

/** What is read beside the library. */
const READ_HERE = ['EXT_mesh_features', 'EXT_instance_features', 'EXT_structural_metadata'];

export interface OpenedGltf {
  document: Document;
  features: Features;
  /** Extensions that the file calls required, and that are passed over all the same. */
  passedOver: string[];
}

/** The GLB header announces the file's length; a copy cut short or a forged header shows here, before any parsing. */
async function checkGlbLengths(path: string, fileName: string): Promise<void> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const { buffer: head, bytesRead } = await file.read(Buffer.alloc(20), 0, 20, 0);
    if (head.toString('latin1', 0, 4) !== 'glTF') return;
    if (bytesRead < 20)
      throw new ModelFileError('truncated', `“${fileName}” is a GLB that breaks off within its header.`);
    const version = head.readUInt32LE(4);
    if (version !== 2) throw otherVersion(fileName, String(version));
    const announced = head.readUInt32LE(8);
    const jsonLength = head.readUInt32LE(12);
    if (announced > size) {
      throw new ModelFileError(
        'truncated',
        `“${fileName}” announces ${announced} bytes but has ${size}: the copy was cut short. Copy or export it again.`,
      );
    }
    if (announced < size || jsonLength + 20 > announced) {
      throw new ModelFileError(
        'damaged',
        `“${fileName}” is a GLB whose announced lengths do not fit the file (${announced} of ${size} bytes). Export it again.`,
      );
    }
  } finally {
    await file.close();
  }
}

function otherVersion(fileName: string, version: string): ModelFileError {
  return new ModelFileError(
    'unsupported',
    `“${fileName}” is glTF version ${version}; Yurta reads version 2.0. Export it again as glTF 2.0 or GLB.`,
  );
}

/**
 * Opens a glTF 2.0 file with the parts that came along.
 *
 * @throws ModelFileError if lengths do not fit, parts are missing, or it breaks the rules of the format
 */
export async function openGltf(source: SourceFile): Promise<OpenedGltf> {
  const { path, fileName } = source;
  await checkGlbLengths(path, fileName);
  // What it would warn of, extensions that it does not know, is told in the report or does no harm.
  const io = new NodeIO()
    .setLogger(new Logger(Logger.Verbosity.ERROR))
    .registerExtensions(EXTENSIONS)
    .registerDependencies({
      'meshopt.decoder': MeshoptDecoder,
      'draco3d.decoder': await draco3d.createDecoderModule(),
    });
  try {
    const bytes = await readFile(path);
    const isBinary = bytes.toString('latin1', 0, 4) === 'glTF';
    const text = () => JSON.parse(decodeText(bytes)) as JSONDocument['json'];
    const whole: JSONDocument = isBinary
      ? await io.binaryToJSON(new Uint8Array(bytes))
      : { json: text(), resources: {} };
    const { json } = whole;
    const version = String(json.asset?.version ?? '1');
    if (!/^2(\.|$)/.test(version)) throw otherVersion(fileName, version);
    await addParts(whole, source);
    const known = new Set<string>(EXTENSIONS.map(({ EXTENSION_NAME }) => EXTENSION_NAME));
    const required = json.extensionsRequired ?? [];
    json.extensionsRequired = required.filter((name) => known.has(name));
    const passedOver = required.filter((name) => !known.has(name) && !READ_HERE.includes(name) && !NO_LOSS.test(name));
    const features = new Features(json, whole.resources, await schemaText(json, source));
    return { document: await io.readJSON(whole), features, passedOver };
  } catch (cause) {
    throw damaged(fileName, cause);
  }
}

/** What the user is told of what went wrong while a file was taken apart. */
export function damaged(fileName: string, cause: unknown): ModelFileError {
  if (cause instanceof ModelFileError) return cause;
  return new ModelFileError(
    'damaged',
    `“${fileName}” could not be read as glTF: ${detailOf(cause)}. Export it again.`,
    {
      cause,
    },
  );
}

/** What stands in the file that describes its facts, where that came along. */
async function schemaText(json: JSONDocument['json'], source: SourceFile): Promise<string | undefined> {
  const uri = Features.schemaUri(json);
  const part = typeof uri === 'string' ? findPart(source, uri) : null;
  return part === null ? undefined : decodeText(await readFile(part));
}

/** What the library stumbles over is told in its own terms, which say nothing to a reader. */
function detailOf(cause: unknown): string {
  if (cause instanceof SyntaxError) return 'it is no whole JSON';
  if (!(cause instanceof Error) || cause instanceof TypeError || cause instanceof RangeError)
    return 'it names data that it does not hold, or breaks another rule of the format';
  return cause.message.replace(/\.$/, '');
}

/** Loads the buffers and pictures that lie beside the file. Only what came along is read, whatever an address says. */
async function addParts({ json, resources }: JSONDocument, source: SourceFile): Promise<void> {
  for (const { uri } of [...(json.buffers ?? []), ...(json.images ?? [])]) {
    if (uri === undefined || uri in resources) continue;
    if (uri.startsWith('data:')) {
      resources[uri] = Buffer.from(uri.slice(uri.indexOf(',') + 1), uri.includes(';base64,') ? 'base64' : 'utf8');
      continue;
    }
    const part = findPart(source, uri);
    if (!part)
      throw new ModelFileError(
        'damaged',
        `“${source.fileName}” refers to another file, “${uri.slice(0, 120)}”, that did not come with it. Choose all files together, or export one .glb file.`,
      );
    resources[uri] = new Uint8Array(await readFile(part));
  }
}
