import { existsSync } from 'node:fs';
import { copyFile, link, mkdir, rename, rm } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { dirname, join, normalize, sep } from 'node:path';
import send from 'send';
import { config } from '../config';
import type { Storage } from './storage';

/** @throws RangeError if the key leads out of the folder */
export function storagePath(key: string): string {
  const root = join(config().dataFolder, 'storage');
  const path = normalize(join(root, key));
  if (!path.startsWith(root + sep)) throw new RangeError('storage key leaves the store');
  return path;
}

/** What disks answer that have no second names for a file, or not across their borders. */
const NO_LINKS = new Set(['EXDEV', 'EPERM', 'ENOSYS', 'EOPNOTSUPP', 'ENOTSUP']);

/** Keeps files in the data folder, which all nodes of an installation share. */
export class LocalFolder implements Storage {
  async keepFile(from: string, key: string): Promise<void> {
    const to = await this.placeFor(key);
    // A second name for the same content takes neither time nor room; not every disk knows such names.
    await link(from, to).catch((error: NodeJS.ErrnoException) => {
      if (!NO_LINKS.has(error.code ?? '')) throw error;
      return copyFile(from, to);
    });
  }

  async takeFolder(from: string, key: string): Promise<void> {
    await rename(from, await this.placeFor(key));
  }

  withFile<Result>(key: string, read: (path: string) => Promise<Result>): Promise<Result> {
    return read(storagePath(key));
  }

  send(key: string, request: IncomingMessage, response: ServerResponse): Promise<boolean> {
    const path = storagePath(key);
    const found = existsSync(path);
    if (found) send(request, encodeURI(path), { cacheControl: false, dotfiles: 'allow' }).pipe(response);
    return Promise.resolve(found);
  }

  async remove(key: string): Promise<void> {
    await rm(storagePath(key), { recursive: true, force: true });
  }

  /** Where what comes under a key is to lie; its folder is made. */
  private async placeFor(key: string): Promise<string> {
    const path = storagePath(key);
    await mkdir(dirname(path), { recursive: true });
    return path;
  }
}
