import { createReadStream } from 'node:fs';
import { open, readFile, stat } from 'node:fs/promises';

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

/** How a text file begins, decoded. @param bytes as many of it */
export async function textHead(path: string, bytes = 4096): Promise<string> {
  return decodeText(await headOf(path, bytes));
}

async function headOf(path: string, bytes: number): Promise<Buffer> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(bytes), 0, bytes, 0);
    return buffer.subarray(0, bytesRead);
  } finally {
    await file.close();
  }
}

/** A text file piece by piece, so that it never lies in memory as a whole. */
export async function* textPieces(path: string): AsyncGenerator<string> {
  const decoder = new TextDecoder(encodingOf(await headOf(path, 256)));
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

/**
 * Hands the lines of a text file over, one by one.
 *
 * @param onProgress told how much of the file has been handed over, 0..1
 * @throws RangeError at a line that no text format has
 */
export async function takeLines(
  path: string,
  take: (line: string) => void,
  onProgress: (share: number) => void,
): Promise<void> {
  const { size } = await stat(path);
  let done = 0;
  for await (const lines of textLines(path)) {
    for (const line of lines) {
      done += line.length + 1;
      take(line);
    }
    onProgress(Math.min(1, done / size));
  }
}
