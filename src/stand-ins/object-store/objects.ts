import { createHash } from 'node:crypto';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, readdir, rename, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { v7 as uuidv7 } from 'uuid';

export interface StoredObject {
  key: string;
  bytes: number;
  modified: Date;
  /** In quotes, as HTTP has it. */
  etag: string;
}

/** The objects of one bucket and the parts of those that are still being sent, kept as files in a folder. */
export class Objects {
  private constructor(private readonly home: string) {}

  static async open(home: string): Promise<Objects> {
    for (const part of ['objects', 'parts', 'drafts']) await mkdir(join(home, part), { recursive: true });
    return new Objects(home);
  }

  path(key: string): string {
    return join(this.home, 'objects', fileName(key));
  }

  async find(key: string): Promise<StoredObject | null> {
    const file = await stat(this.path(key)).catch(() => null);
    return file && describe(key, file);
  }

  /** By key, in the order of their bytes. */
  async list(prefix: string): Promise<StoredObject[]> {
    const keys = (await readdir(join(this.home, 'objects'))).map(decodeURIComponent);
    const found = await Promise.all(keys.filter((key) => key.startsWith(prefix)).map((key) => this.find(key)));
    return found
      .filter((object) => object !== null)
      .sort((a, b) => Buffer.compare(Buffer.from(a.key), Buffer.from(b.key)));
  }

  /**
   * @param sha256 announced hash of the content; null where none was
   * @returns null if the content is not what was announced; then nothing is kept
   */
  put(key: string, body: Readable, sha256: string | null): Promise<StoredObject | null> {
    return this.write(this.path(key), key, body, sha256);
  }

  async remove(key: string): Promise<void> {
    await rm(this.path(key), { force: true });
  }

  async beginParts(): Promise<string> {
    const upload = uuidv7();
    await mkdir(join(this.home, 'parts', upload));
    return upload;
  }

  async hasParts(upload: string): Promise<boolean> {
    return /^[\w-]+$/.test(upload) && (await stat(join(this.home, 'parts', upload)).catch(() => null)) !== null;
  }

  putPart(upload: string, number: number, body: Readable, sha256: string | null): Promise<StoredObject | null> {
    return this.write(join(this.home, 'parts', upload, String(number)), String(number), body, sha256);
  }

  /** Joins parts into an object, in the order given. Returns null if one of them is not there. */
  async joinParts(
    upload: string,
    key: string,
    parts: { number: number; etag: string }[],
  ): Promise<StoredObject | null> {
    const folder = join(this.home, 'parts', upload);
    for (const { number, etag } of parts) {
      const file = await stat(join(folder, String(number))).catch(() => null);
      if (!file || describe(String(number), file).etag !== etag) return null;
    }
    const all = async function* () {
      for (const { number } of parts) yield* createReadStream(join(folder, String(number)));
    };
    const draft = this.draft();
    await pipeline(all, createWriteStream(draft));
    await rename(draft, this.path(key));
    await this.dropParts(upload);
    return this.find(key);
  }

  async dropParts(upload: string): Promise<void> {
    await rm(join(this.home, 'parts', upload), { recursive: true, force: true });
  }

  private draft(): string {
    return join(this.home, 'drafts', uuidv7());
  }

  private async write(path: string, key: string, body: Readable, sha256: string | null): Promise<StoredObject | null> {
    const draft = this.draft();
    const hash = createHash('sha256');
    const hashed = async function* (source: Readable) {
      for await (const chunk of source) {
        hash.update(chunk as Buffer);
        yield chunk as Buffer;
      }
    };
    try {
      await pipeline(body, hashed, createWriteStream(draft));
      if (sha256 !== null && hash.digest('hex') !== sha256) return null;
      await rename(draft, path);
      return describe(key, await stat(path));
    } finally {
      await rm(draft, { force: true });
    }
  }
}

function describe(key: string, { size, mtime }: { size: number; mtime: Date }): StoredObject {
  return { key, bytes: size, modified: mtime, etag: `"${mtime.getTime().toString(16)}-${size.toString(16)}"` };
}

/** A name that any key can have: without slashes, and never `.` or `..`. */
function fileName(key: string): string {
  return encodeURIComponent(key).replaceAll('.', '%2E');
}
