import { existsSync } from 'node:fs';
import { readdir, readFile, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Actor } from '../access/access';
import { config } from '../config';
import { notFound, Problem } from '../problems';

/** Where resumable uploads collect until they are published. */
export function uploadFolder(): string {
  return join(config().dataFolder, 'uploads');
}

interface UploadRecord {
  size: number;
  metadata?: Record<string, string | null>;
}

/**
 * The file of a finished upload.
 *
 * @throws Problem if it is unknown, somebody else's or not complete
 */
export async function finishedUpload(actor: Actor, uploadId: string): Promise<{ path: string; fileName: string }> {
  const path = join(uploadFolder(), uploadId);
  if (!/^[0-9a-f]{16,64}$/.test(uploadId) || !existsSync(`${path}.json`)) throw notFound('The upload');
  const record = JSON.parse(await readFile(`${path}.json`, 'utf8')) as UploadRecord;
  if (record.metadata?.owner !== actor.id) throw notFound('The upload');
  const { size } = await stat(path);
  if (size !== record.size)
    throw new Problem(
      409,
      'The upload is not complete yet. Let it finish, or resume it by choosing the same file again.',
    );
  return { path, fileName: record.metadata.filename ?? 'model' };
}

/**
 * Uses a finished upload, once: of several who want it at the same time one has it. Where that fails, it can be used again.
 *
 * @throws Problem if it is unknown, somebody else's, not complete or used already
 */
export async function withUpload<Result>(
  actor: Actor,
  uploadId: string,
  work: (upload: { path: string; fileName: string }) => Promise<Result>,
): Promise<Result> {
  const upload = await finishedUpload(actor, uploadId);
  const record = join(uploadFolder(), `${uploadId}.json`);
  const taken = join(uploadFolder(), `${uploadId}.used`);
  // A file is renamed once, however many ask for it.
  await rename(record, taken).catch((error: NodeJS.ErrnoException) => {
    throw error.code === 'ENOENT' ? new Problem(409, 'This upload is being published already.') : error;
  });
  try {
    const result = await work(upload);
    await rm(taken, { force: true });
    return result;
  } catch (error) {
    await rename(taken, record);
    throw error;
  }
}

/** What was announced and is not published yet. */
export interface AnnouncedUpload {
  id: string;
  owner: string;
  /** How long it will be, in bytes. */
  size: number;
  /** How much of it is there, in bytes. */
  arrived: number;
}

/** All that was announced to this installation, whoever did. */
export async function announcedUploads(): Promise<AnnouncedUpload[]> {
  const names = (await readdir(uploadFolder())).filter((name) => name.endsWith('.json'));
  const uploads = await Promise.all(
    names.map(async (name) => {
      const record = await readFile(join(uploadFolder(), name), 'utf8').catch(() => null); // published meanwhile
      if (record === null) return [];
      const { size, metadata } = JSON.parse(record) as UploadRecord;
      const arrived = await stat(join(uploadFolder(), twin(name))).then(
        (file) => file.size,
        () => 0,
      );
      return [{ id: twin(name), owner: metadata?.owner ?? '', size, arrived }];
    }),
  );
  return uploads.flat();
}

/** An upload that nobody published or continued for so long is given up. */
const ABANDONED_MS = 48 * 60 * 60 * 1000;

/** Removes abandoned uploads. Returns how many files went. */
export async function removeAbandonedUploads(now = Date.now()): Promise<number> {
  if (!existsSync(uploadFolder())) return 0;
  let removed = 0;
  for (const name of await readdir(uploadFolder())) {
    const path = join(uploadFolder(), name);
    // The record is written once, the data with every part: both are as old as the newer of them.
    const newest = Math.max(
      ...(await Promise.all([name, twin(name)].map((file) => modified(join(uploadFolder(), file))))),
    );
    if (now - newest < ABANDONED_MS) continue;
    await rm(path, { force: true });
    removed++;
  }
  return removed;
}

function twin(name: string): string {
  return name.endsWith('.json') ? name.slice(0, -'.json'.length) : `${name}.json`;
}

/** When a file last changed, in milliseconds; 0 if it is not there. */
async function modified(path: string): Promise<number> {
  return existsSync(path) ? (await stat(path)).mtimeMs : 0;
}
