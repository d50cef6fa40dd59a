import { open } from 'node:fs/promises';

/** Bytes before the first triangle; the last four are the number of triangles. */
export const HEADER = 84;
export const BYTES_A_TRIANGLE = 50;

/** Binary STL has no signature, but its length follows from the number of triangles in its header. */
export async function isBinaryStl(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { size } = await file.stat();
    const { buffer, bytesRead } = await file.read(Buffer.alloc(HEADER), 0, HEADER, 0);
    return (
      bytesRead === HEADER && size === HEADER + buffer.readUInt32LE(HEADER - 4) * BYTES_A_TRIANGLE && size > HEADER
    );
  } finally {
    await file.close();
  }
}
