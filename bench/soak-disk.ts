import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, rmSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Room for a database with its log, the store and a few hundred small models. */
const SIZE_MB = 900;
/** Tells the second run that it stands in a place of its own. */
const OWN_DISK = 'YURTA_SOAK_DISK';

/**
 * Runs this program again where it may have a disk of its own, in memory, seen by nobody else (Linux's namespaces of mounts). Where
 * the machine does not allow that, the caller goes on without.
 *
 * @returns exit code of the second run; null in that run itself, and where there can be none
 */
export function againWithOwnDisk(): number | null {
  if (process.env[OWN_DISK]) return null;
  const isRoot = process.getuid?.() === 0;
  const apart = ['--mount', ...(isRoot ? [] : ['--user', '--map-current-user', '--keep-caps'])];
  const folder = mkdtempSync(join(tmpdir(), 'yurta-soak-'));
  const mount = `mount -t tmpfs -o size=${SIZE_MB}m,mode=755 yurta-soak ${folder}`;
  try {
    if (spawnSync('unshare', [...apart, 'sh', '-c', mount], { stdio: 'ignore' }).status !== 0) return null;
    const again = [process.execPath, ...process.execArgv, ...process.argv.slice(1)];
    const run = spawnSync('unshare', [...apart, 'sh', '-c', `${mount} && exec "$@"`, 'sh', ...again], {
      stdio: 'inherit',
      env: { ...process.env, [OWN_DISK]: folder },
    });
    return run.status ?? 1;
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Folder of the disk that belongs to this run alone; null if it has none. */
export function ownDisk(): string | null {
  return process.env[OWN_DISK] ?? null;
}

/** Fills a disk to the last byte. Returns how to make room again. */
export function fillDisk(folder: string): () => void {
  const path = join(folder, 'ballast');
  const file = openSync(path, 'w');
  for (const size of [1024 * 1024, 4096])
    try {
      for (const block = Buffer.alloc(size); ;) writeSync(file, block);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== 'ENOSPC') throw error;
    }
  closeSync(file);
  return () => rmSync(path);
}
