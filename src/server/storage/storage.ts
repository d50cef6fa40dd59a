import type { IncomingMessage, ServerResponse } from 'node:http';
import { config } from '../config';

/**
 * Where files lie: source files and published revisions, under keys that are relative paths. What lies under a key never
 * changes; it comes, and one day goes. Everything else of the application asks here and never joins paths itself.
 */
export interface Storage {
  /** Keeps a file, which stays where it was as well: whoever brought it may need it again if what follows fails. */
  keepFile(from: string, key: string): Promise<void>;
  /**
   * Takes a finished folder over, whose files are then under the key, a new one. Until this is done, nobody may know the key;
   * where it fails, half of the files may be there.
   */
  takeFolder(from: string, key: string): Promise<void>;
  /** Lends a file: its path holds until `read` is done. */
  withFile<Result>(key: string, read: (path: string) => Promise<Result>): Promise<Result>;
  /**
   * Answers a request with a file: whole or the range that is asked for, with what a browser needs to ask whether it has
   * changed. Headers that are set already stay.
   *
   * @returns false if there is no such file; then nothing was answered
   */
  send(key: string, request: IncomingMessage, response: ServerResponse): Promise<boolean>;
  /** Removes a file, or all files of a folder, if there are any. */
  remove(key: string): Promise<void>;
}

export const sourceKey = (revisionId: string) => `sources/${revisionId}`;
export const revisionKey = (contentId: string) => `revisions/${contentId}`;

let chosen: Promise<Storage> | undefined;

/** The bucket that this installation is set up with; without one, the data folder. */
export function storage(): Promise<Storage> {
  return (chosen ??= choose());
}

/** What is not used is not loaded: the client of a bucket is large. */
async function choose(): Promise<Storage> {
  const { bucket } = config();
  return bucket ? new (await import('./bucket')).Bucket(bucket) : new (await import('./local-folder')).LocalFolder();
}
