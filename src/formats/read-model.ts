import { mkdtemp, open, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { extname, join } from 'node:path';
import type { ModelFrame } from '@/core/units/length-unit';
import type { BuildingModel, Geometry } from './building-model';
import { ModelFileError } from './model-file-error';
import type { SourceFile } from './source-file';
import { isBinaryStl, isTextStl } from './stl/is-stl';
import { PackageParts } from './threemf/package-parts';
import { decodeText } from './text/text-file';
import { unpack } from './unpack';

export interface ReadOptions {
  /** Called with the share done, 0..1. */
  onProgress?: (share: number) => void;
  /** Told of geometries of the model to come, where a reader has some long before all, so that they can be worked on meanwhile. */
  onShapes?: (shapes: Geometry[]) => void;
  /** What the user chose for a file that does not say itself how its numbers are meant. */
  frame?: Partial<ModelFrame>;
}

type Reader = (source: SourceFile, options: ReadOptions) => Promise<BuildingModel>;

/** Each reader is loaded when a file asks for it: together their libraries take seconds to start. */
const readers = {
  ifc: async (): Promise<Reader> => (await import('./ifc/read-ifc')).readIfc,
  gltf: async (): Promise<Reader> => (await import('./gltf/read-gltf')).readGltf,
  obj: async (): Promise<Reader> => (await import('./obj/read-obj')).readObj,
  stl: async (): Promise<Reader> => (await import('./stl/read-stl')).readStl,
  ply: async (): Promise<Reader> => (await import('./ply/read-ply')).readPly,
  collada: async (): Promise<Reader> => (await import('./collada/read-collada')).readCollada,
  threeMf: async (): Promise<Reader> => (await import('./threemf/read-threemf')).readThreeMf,
  gbxml: async (): Promise<Reader> => (await import('./gbxml/read-gbxml')).readGbxml,
};

const HEAD_BYTES = 64 * 1024;
const ARCHIVE = { bytes: 4 * 1024 ** 3, entries: 20_000 };
const READS =
  'Yurta reads IFC (also .ifczip), glTF and GLB, OBJ, STL, PLY, COLLADA, 3MF and gbXML, and zip archives of these.';

/**
 * Reads a model file of any known format. The format is decided by the content, not by the name, so that a
 * mislabelled file is either read as what it is or refused with its true kind. Archives are unpacked for as long as
 * the reading takes.
 *
 * @param path where the file lies
 * @param fileName the name the user gave it, for messages
 * @throws ModelFileError with a sentence for the user
 */
export async function readModel(path: string, fileName: string, options: ReadOptions = {}): Promise<BuildingModel> {
  const head = await readHead(path);
  if (head.length === 0)
    throw new ModelFileError('empty', `“${fileName}” is empty (0 bytes). Export it again and check the file's size.`);
  if (!isZip(head)) {
    const reader = await chooseReader(path, head, fileName);
    return reader({ path, fileName, parts: null }, options);
  }
  return readArchive(path, fileName, options, false);
}

/** @param isWithin whether it lies in another archive, as a 3MF package may; deeper than that nothing is looked for */
async function readArchive(
  path: string,
  fileName: string,
  options: ReadOptions,
  isWithin: boolean,
): Promise<BuildingModel> {
  const folder = await mkdtemp(join(tmpdir(), 'yurta-parts-'));
  try {
    const found = await unpack(path, fileName, folder, ARCHIVE);
    const part = await new PackageParts(folder).model();
    if (part) return await (await readers.threeMf())({ path: part, fileName, parts: folder }, options);
    const main = found();
    const head = await readHead(main);
    if (isZip(head) && !isWithin) return await readArchive(main, fileName, options, true);
    const reader = await chooseReader(main, head, fileName);
    return await reader({ path: main, fileName, parts: folder }, options);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

async function chooseReader(path: string, head: Buffer, fileName: string): Promise<Reader> {
  const text = decodeText(head).trimStart();
  if (text.startsWith('ISO-10303-21')) return readers.ifc();
  if (head.toString('latin1', 0, 4) === 'glTF') return readers.gltf();
  if (/^ply\s/.test(text)) return readers.ply();
  if (text.startsWith('{') && /"asset"|"scenes?"|"meshes"|"buffers"|"accessors"/.test(text)) return readers.gltf();
  if (text.startsWith('<') && /<(\w+:)?COLLADA[\s>]/.test(text)) return readers.collada();
  if (text.startsWith('<') && /<(\w+:)?gbXML[\s>]/.test(text)) return readers.gbxml();
  if (isTextStl(text)) return readers.stl();
  if (await isBinaryStl(path)) return readers.stl();
  const extension = extname(fileName).toLowerCase();
  if (extension === '.stl' && !knownKind(head)) return readers.stl();
  const looksLikeObj = /^(v|o|g|mtllib)\s+\S/m.test(text) && !text.includes('\0');
  if (looksLikeObj && (extension === '.obj' || /^v\s+[-+\d.]+\s+[-+\d.]+\s+[-+\d.]+/m.test(text))) return readers.obj();
  throw new ModelFileError('unknown-format', unknownFormatMessage(head, fileName));
}

async function readHead(path: string): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEAD_BYTES), 0, HEAD_BYTES, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

function isZip(head: Buffer): boolean {
  return head.toString('hex', 0, 4) === '504b0304' || head.toString('hex', 0, 4) === '504b0506';
}

function unknownFormatMessage(head: Buffer, fileName: string): string {
  const kind = knownKind(head);
  const found = kind ? `it holds ${kind}` : 'its content belongs to no model format that Yurta reads';
  return `“${fileName}” is not a model: ${found}. ${READS}`;
}

function knownKind(head: Buffer): string | undefined {
  const signatures: [string, string][] = [
    ['89504e47', 'a PNG picture'],
    ['ffd8ff', 'a JPEG picture'],
    ['47494638', 'a GIF picture'],
    ['25504446', 'a PDF document'],
    ['1f8b', 'a gzip archive'],
    ['377abcaf', 'a 7z archive; pack it as zip'],
    ['52617221', 'a RAR archive; pack it as zip'],
    ['d0cf11e0', 'an old Office document'],
  ];
  const hex = head.toString('hex', 0, 4);
  return signatures.find(([signature]) => hex.startsWith(signature))?.[1];
}
