import { createWriteStream } from 'node:fs';
import { mkdir } from 'node:fs/promises';
import { dirname, extname, join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { openPromise, type Entry, type ZipFile } from 'yauzl';
import { ModelFileError } from './model-file-error';

export interface UnpackLimits {
  /** Bytes of all entries together, unpacked. */
  bytes: number;
  entries: number;
}

/** What model files are called, the more telling ones first. */
const MODEL_NAMES = ['.ifc', '.gltf', '.glb', '.dae', '.obj', '.3mf', '.ply', '.stl', '.xml', '.gbxml'];

/**
 * Unpacks a zip archive into an empty folder and finds the model in it. Entries may neither leave the folder nor be
 * larger than they announce, and all together not larger than the limit.
 *
 * @returns a function that finds the path of the one model file among the parts
 * @throws ModelFileError if it is damaged, encrypted or too large; the function: if there is no model or several
 */
export async function unpack(
  path: string,
  fileName: string,
  folder: string,
  limits: UnpackLimits,
): Promise<() => string> {
  const names: string[] = [];
  let bytes = 0;
  try {
    const zip = await openPromise(path, { lazyEntries: true, validateEntrySizes: true, strictFileNames: false });
    try {
      for await (const entry of zip.eachEntry()) {
        if (entry.fileName.endsWith('/') || isClutter(entry.fileName)) continue;
        bytes += entry.uncompressedSize;
        names.push(entry.fileName);
        if (bytes > limits.bytes || names.length > limits.entries) throw tooLarge(fileName, limits);
        await extract(zip, entry, folder);
      }
    } finally {
      zip.close();
    }
  } catch (cause) {
    if (cause instanceof ModelFileError) throw cause;
    const detail = cause instanceof Error ? cause.message : String(cause);
    throw new ModelFileError(
      'damaged',
      `“${fileName}” is a zip archive that cannot be unpacked: ${detail}. Pack it again, without a password.`,
      { cause },
    );
  }
  return () => join(folder, chooseModel(names, fileName));
}

async function extract(zip: ZipFile, entry: Entry, folder: string): Promise<void> {
  const target = join(folder, entry.fileName);
  await mkdir(dirname(target), { recursive: true });
  await pipeline(await zip.openReadStreamPromise(entry), createWriteStream(target, { flags: 'wx' }));
}

/** What archive programs put in by themselves. */
function isClutter(name: string): boolean {
  return /(^|\/)(__MACOSX\/|\.DS_Store$|Thumbs\.db$|\._)/i.test(name);
}

function chooseModel(names: string[], fileName: string): string {
  for (const wanted of MODEL_NAMES) {
    const found = names.filter((name) => extname(name).toLowerCase() === wanted);
    if (found.length === 1) return found[0]!;
    if (found.length > 1)
      throw new ModelFileError(
        'unsupported',
        `“${fileName}” holds several models (${found.slice(0, 4).join(', ')}${found.length > 4 ? ', …' : ''}). Publish each as a model of its own.`,
      );
  }
  throw new ModelFileError(
    'nothing-inside',
    `“${fileName}” is a zip archive without a model: it holds ${names.slice(0, 4).join(', ') || 'nothing'}.`,
  );
}

function tooLarge(fileName: string, limits: UnpackLimits): ModelFileError {
  return new ModelFileError(
    'too-large',
    `“${fileName}” would unpack to more than ${Math.round(limits.bytes / 1024 / 1024)} MB or ${limits.entries} files and was not unpacked.`,
  );
}
