import { existsSync } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { dirname, join, normalize, sep } from 'node:path';
import { config } from './config';
import { Problem } from './problems';

/**
 * Where files lie: source files and published revisions. A local folder; keys are relative paths. Everything else of
 * the application asks here and never joins paths itself.
 */
export function storagePath(key: string): string {
  const root = join(config().dataFolder, 'storage');
  const path = normalize(join(root, key));
  if (!path.startsWith(root + sep)) throw new RangeError('storage key leaves the store');
  return path;
}

export const sourceKey = (revisionId: string) => `sources/${revisionId}`;
export const revisionKey = (contentId: string) => `revisions/${contentId}`;

export async function moveIntoStorage(from: string, key: string): Promise<void> {
  const to = storagePath(key);
  await mkdir(dirname(to), { recursive: true });
  await rename(from, to);
}

/** Puts a finished folder in place at once: readers see all of it or nothing. */
export async function replaceFolder(from: string, key: string): Promise<void> {
  const to = storagePath(key);
  await mkdir(dirname(to), { recursive: true });
  await rm(to, { recursive: true, force: true });
  await rename(from, to);
}

/** What the system says of a disk that is gone, read-only or broken. */
const AWAY = new Set(['EACCES', 'EPERM', 'EROFS', 'EIO', 'ENOTDIR', 'ESTALE', 'ENOTCONN', 'ENXIO', 'EHOSTDOWN']);
const FULL = new Set(['ENOSPC', 'EDQUOT']);

/** What a user is told of an error of the disk that holds the store; null for any other error. */
export function storeTrouble(error: unknown): Problem | null {
  const code = (error as NodeJS.ErrnoException | null)?.code;
  if (code && FULL.has(code))
    return new Problem(
      507,
      'There is no room left on the server’s disk. Ask the administrator to make room, then try again.',
    );
  if (code && AWAY.has(code))
    return new Problem(
      503,
      'The server’s disk for models cannot be reached just now. What was published is not lost; ask the administrator, then try again.',
    );
  return null;
}

/** Where a conversion writes until its folder is whole. */
export function workFolder(): string {
  return join(config().dataFolder, 'work');
}

/** Removes what conversions that were killed left behind. Returns how many folders went. */
export async function removeAbandonedWork(now = Date.now()): Promise<number> {
  const longest = config().jobMinutes * 60_000 * 2;
  if (!existsSync(workFolder())) return 0;
  let removed = 0;
  for (const name of await readdir(workFolder())) {
    const path = join(workFolder(), name);
    if (now - (await stat(path)).mtimeMs < longest) continue;
    await rm(path, { recursive: true, force: true });
    removed++;
  }
  return removed;
}
