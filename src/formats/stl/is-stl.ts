import { open } from 'node:fs/promises';

/** Bytes before the first facet; the last four are the number of facets. */
export const HEADER = 84;
export const BYTES_A_FACET = 50;

/** Whether a text begins as STL does, in capitals or not. */
export function isTextStl(text: string): boolean {
  return /^\s*solid\b/i.test(text) && /\b(facet\s+normal|endsolid)\b/i.test(text);
}

/** Binary STL has no signature, but its length follows from the number of facets in its header. */
export async function isBinaryStl(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEADER), 0, HEADER, 0);
    return bytesRead === HEADER && size === HEADER + facetCount(buffer) * BYTES_A_FACET && size > HEADER;
  } finally {
    await file.close();
  }
}

export function facetCount(bytes: Buffer): number {
  return bytes.readUInt32LE(HEADER - 4);
}
