import { createReadStream } from 'node:fs';
import { open, readFile } from 'node:fs/promises';

/** A longer line is none of any text format, and would not fit into memory. */
const LONGEST_LINE = 16 * 1024 * 1024;

/**
 * How a text begins tells how it is written: by its byte order mark, by what its XML declaration says, else UTF-8.
 *
 * @returns a label of the Encoding standard
 */
export function encodingOf(head: Buffer): string {
  const mark = head.toString('hex', 0, 2);
  if (mark === 'fffe') return 'utf-16le';
  if (mark === 'feff') return 'utf-16be';
  const declared = /^<\?xml[^>]*\bencoding\s*=\s*["']([\w.:-]+)["']/.exec(head.toString('latin1', 0, 200))?.[1];
  // What could be read as single bytes is not written in two, whatever it says.
  return declared !== undefined && !/^utf-?16/i.test(declared) && isKnown(declared) ? declared : 'utf-8';
}

function isKnown(label: string): boolean {
  try {
    new TextDecoder(label);
    return true;
  } catch {
    return false;
  }
}

/** A text, decoded and without its byte order mark. */
export function decodeText(bytes: Uint8Array): string {
  return new TextDecoder(encodingOf(Buffer.from(bytes.buffer, bytes.byteOffset, bytes.byteLength))).decode(bytes);
}

export async function readText(path: string): Promise<string> {
  return decodeText(await readFile(path));
}

export async function encodingOfFile(path: string): Promise<string> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(256), 0, 256, 0);
    return encodingOf(buffer.subarray(0, bytesRead));
  } finally {
    await file.close();
  }
}

/** A text file piece by piece, so that it never lies in memory as a whole. */
export async function* textPieces(path: string): AsyncGenerator<string> {
  const decoder = new TextDecoder(await encodingOfFile(path));
  for await (const piece of createReadStream(path, { highWaterMark: 1 << 20 }))
    yield decoder.decode(piece as Buffer, { stream: true });
  yield decoder.decode();
}

/**
 * The lines of a text file, many at once, without their ends.
 *
 * @throws RangeError at a line that no text format has
 */
export async function* textLines(path: string): AsyncGenerator<string[]> {
  let rest = '';
  for await (const piece of textPieces(path)) {
    const lines = (rest + piece).split(/\r\n|\n|\r(?!$)/);
    rest = lines.pop()!;
    if (rest.length > LONGEST_LINE) throw new RangeError('a line has more than 16 million letters');
    yield lines;
  }
  yield [rest.replace(/\r$/, '')];
}
