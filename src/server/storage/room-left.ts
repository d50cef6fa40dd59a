import { statfs } from 'node:fs/promises';

/** Bytes that are left on the disk of a folder. */
export async function roomLeft(folder: string): Promise<number> {
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
}
