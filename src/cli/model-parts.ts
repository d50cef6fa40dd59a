import { createReadStream, existsSync, writeSync } from 'node:fs';
import { mkdtemp, open, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { basename, dirname, extname, join, relative, resolve } from 'node:path';
import { Zip, ZipDeflate } from 'fflate';
import { comesInParts, isPartFile, PART_ENDINGS } from '@/core/project/incoming-file';

/** A model file and the files that belong to it, such as materials and pictures. */
export interface ModelParts {
  main: string;
  parts: string[];
}

/** Parts are looked for in so many folders below one another, among so many files at most. */
const DEPTH = 3;
const MOST_FILES = 10_000;
/** Letters of a file's name, at most. */
const LONGEST_NAME = 255;
const ENDINGS = new RegExp(`(${PART_ENDINGS.map((ending) => `\\${ending}`).join('|')})(?![\\w-])`, 'gi');

/**
 * Models as they are to be sent: one of a kind that comes in parts together with the parts that were given, and with
 * those beside it that it names. Parts without such a model stay as they are, and what is not there too, so that whoever
 * reads them can say what they are.
 */
export async function gatherParts(files: string[]): Promise<ModelParts[]> {
  const mains = files.filter(comesInParts);
  const given = mains.length > 0 ? files.filter(isPartFile) : [];
  return Promise.all(
    files
      .filter((file) => !given.includes(file))
      .map(async (main) => {
        if (!comesInParts(main)) return { main, parts: [] };
        const parts = [...given.map((part) => resolve(part)), ...(await partsBeside(main))];
        return { main, parts: [...new Set(parts)] };
      }),
  );
}

/** The parts of a model, in its folder or below, that it or one of its parts names. Absolute paths, sorted. */
export async function partsBeside(main: string): Promise<string[]> {
  if (!comesInParts(main) || !existsSync(main)) return [];
  const candidates = new Set(await partFilesBelow(dirname(resolve(main)), DEPTH));
  const found: string[] = [];
  const asking = [main];
  for (let file = asking.pop(); file !== undefined && candidates.size > 0; file = asking.pop()) {
    for (const part of await namedIn(file, [...candidates])) {
      candidates.delete(part);
      found.push(part);
      if (extname(part).toLowerCase() === '.mtl') asking.push(part);
    }
  }
  return found.sort();
}

async function partFilesBelow(folder: string, depth: number): Promise<string[]> {
  const files: string[] = [];
  const entries = await readdir(folder, { withFileTypes: true }).catch(() => []); // one that may not be read holds none
  for (const entry of entries) {
    if (entry.name.startsWith('.') || files.length >= MOST_FILES) continue;
    const path = join(folder, entry.name);
    if (entry.isFile() && isPartFile(entry.name)) files.push(path);
    else if (entry.isDirectory() && depth > 1) files.push(...(await partFilesBelow(path, depth - 1)));
  }
  return files;
}

/** Those of some files whose names stand in a text file, in whatever case, plain or as in an address. */
async function namedIn(file: string, candidates: string[]): Promise<string[]> {
  const names = candidates.map((path) => [basename(path).toLowerCase(), path] as const);
  const found = new Set<string>();
  let carried = '';
  for await (const chunk of createReadStream(file, { encoding: 'utf8', highWaterMark: 1 << 20 })) {
    const text = carried + (chunk as string);
    for (const { index, 0: ending } of text.matchAll(ENDINGS)) {
      const end = index + ending.length;
      const before = text.slice(Math.max(0, end - 3 * LONGEST_NAME), end).toLowerCase();
      const plain = unescaped(before).toLowerCase();
      for (const [name, path] of names) if (before.endsWith(name) || plain.endsWith(name)) found.add(path);
    }
    carried = text.slice(-3 * LONGEST_NAME);
  }
  return [...found];
}

function unescaped(text: string): string {
  return text.replace(/(%[\da-f]{2})+/gi, (bytes) => {
    try {
      return decodeURIComponent(bytes);
    } catch {
      return bytes; // a per cent sign that means itself
    }
  });
}

/** Hands a model over as one file: itself, or an archive of it and its parts that is gone afterwards. */
export async function withOneFile<T>({ main, parts }: ModelParts, hand: (path: string) => Promise<T>): Promise<T> {
  if (parts.length === 0) return hand(main);
  const folder = await mkdtemp(join(tmpdir(), 'yurta-parts-'));
  try {
    const archive = join(folder, `${basename(main)}.zip`);
    await pack(main, parts, archive);
    return await hand(archive);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}

/** Parts below the model's folder keep their place; others lie beside it. */
async function pack(main: string, parts: string[], archive: string): Promise<void> {
  const home = dirname(resolve(main));
  const out = await open(archive, 'w');
  try {
    const zip = new Zip((error, chunk) => {
      if (error) throw error;
      writeSync(out.fd, chunk);
    });
    for (const file of [resolve(main), ...parts]) {
      const place = relative(home, file);
      const entry = new ZipDeflate(place.startsWith('..') ? basename(file) : place, { level: 1 });
      zip.add(entry);
      for await (const chunk of createReadStream(file, { highWaterMark: 1 << 20 })) entry.push(chunk as Buffer);
      entry.push(new Uint8Array(0), true);
    }
    zip.end();
  } finally {
    await out.close();
  }
}
