import { open } from 'node:fs/promises';
import type { BuildingModel } from './building-model';
import { readGltf } from './gltf/read-gltf';
import { readIfc } from './ifc/read-ifc';
import { ModelFileError } from './model-file-error';

export interface ReadOptions {
  /** Called with the share done, 0..1. */
  onProgress?: (share: number) => void;
}

type Reader = (path: string, fileName: string, options: ReadOptions) => Promise<BuildingModel>;

/**
 * Reads a model file of any known format. The format is decided by the first bytes, not by the name, so that a
 * mislabelled file is either read as what it is or refused with its true kind.
 *
 * @param path where the file lies
 * @param fileName the name the user gave it, for messages
 * @throws ModelFileError with a sentence for the user
 */
export async function readModel(path: string, fileName: string, options: ReadOptions = {}): Promise<BuildingModel> {
  const reader = await chooseReader(path, fileName);
  return reader(path, fileName, options);
}

async function chooseReader(path: string, fileName: string): Promise<Reader> {
  const head = await readHead(path, 4096);
  if (head.length === 0)
    throw new ModelFileError('empty', `“${fileName}” is empty (0 bytes). Export it again and check the file's size.`);
  const text = head
    .toString('latin1')
    .replace(/^\u00ef\u00bb\u00bf/, '')
    .trimStart();
  if (text.startsWith('ISO-10303-21')) return readIfc;
  if (head.subarray(0, 4).toString('latin1') === 'glTF') return readGltf;
  if (text.startsWith('{') && /"asset"|"scenes?"|"meshes"|"buffers"|"accessors"/.test(text)) return readGltf;
  throw new ModelFileError('unknown-format', unknownFormatMessage(head, fileName));
}

async function readHead(path: string, length: number): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(length), 0, length, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

function unknownFormatMessage(head: Buffer, fileName: string): string {
  const kind = knownKind(head);
  const found = kind ? `it holds ${kind}` : 'its first bytes belong to no model format that Yurta reads';
  return `“${fileName}” is not a model: ${found}. Yurta reads IFC (2x3, 4, 4x3) and glTF or GLB.`;
}

function knownKind(head: Buffer): string | undefined {
  const signatures: [string, string][] = [
    ['89504e47', 'a PNG picture'],
    ['ffd8ff', 'a JPEG picture'],
    ['47494638', 'a GIF picture'],
    ['25504446', 'a PDF document'],
    ['504b0304', 'a zip archive'],
    ['1f8b', 'a gzip archive'],
    ['d0cf11e0', 'an old Office document'],
  ];
  const hex = head.subarray(0, 4).toString('hex');
  return signatures.find(([signature]) => hex.startsWith(signature))?.[1];
}
