import { existsSync } from 'node:fs';
import { readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { config } from '../config';

/** Where a conversion writes until its folder is whole, and where files of a bucket lie while they are read. */
export function workFolder(): string {
  return join(config().dataFolder, 'work');
}

/** Removes what conversions that were killed left behind. Returns how many files and folders went. */
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
