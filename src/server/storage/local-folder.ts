import { existsSync } from 'node:fs';
import { mkdir, rename, rm } from 'node:fs/promises';
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

/** Keeps files in the data folder, which all nodes of an installation share. */
export class LocalFolder implements Storage {
  async takeFile(from: string, key: string): Promise<void> {
    const to = storagePath(key);
    await mkdir(dirname(to), { recursive: true });
    await rename(from, to);
  }

  async takeFolder(from: string, key: string): Promise<void> {
    await this.takeFile(from, key);
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
}
