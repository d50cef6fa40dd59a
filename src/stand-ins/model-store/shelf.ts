import { createWriteStream, existsSync } from 'node:fs';
import { mkdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { v7 as uuidv7 } from 'uuid';

export interface FileVersion {
  number: number;
  bytes: number;
  /** UTC, ISO 8601. */
  at: string;
  by: string;
}

export interface ShelfFile {
  id: string;
  name: string;
  folder: string;
  /** Oldest first. */
  versions: FileVersion[];
}

export interface ShelfFolder {
  id: string;
  name: string;
  /** Null for the root. */
  parent: string | null;
}

/** Who is told of new versions of a file. */
export interface Subscription {
  id: string;
  file: string;
  address: string;
  secret: string;
}

interface Contents {
  folders: ShelfFolder[];
  files: ShelfFile[];
  subscriptions: Subscription[];
}

export const ROOT = 'root';

/** Folders, files with versions and subscriptions of the model store, kept in a folder: a record and the versions beside it. */
export class Shelf {
  private writing: Promise<void> = Promise.resolve();

  private constructor(
    private readonly home: string,
    private readonly contents: Contents,
  ) {}

  static async open(home: string): Promise<Shelf> {
    await mkdir(join(home, 'content'), { recursive: true });
    const record = join(home, 'shelf.json');
    const empty: Contents = { folders: [{ id: ROOT, name: 'All files', parent: null }], files: [], subscriptions: [] };
    return new Shelf(home, existsSync(record) ? (JSON.parse(await readFile(record, 'utf8')) as Contents) : empty);
  }

  folder(id: string): ShelfFolder | undefined {
    return this.contents.folders.find((folder) => folder.id === id);
  }

  file(id: string): ShelfFile | undefined {
    return this.contents.files.find((file) => file.id === id);
  }

  foldersIn(id: string): ShelfFolder[] {
    return this.contents.folders.filter(({ parent }) => parent === id).sort(byName);
  }

  filesIn(id: string): ShelfFile[] {
    return this.contents.files.filter(({ folder }) => folder === id).sort(byName);
  }

  /** The folders from the root down to one, that one included. */
  pathTo(id: string): ShelfFolder[] {
    const folder = this.folder(id);
    return folder ? [...(folder.parent === null ? [] : this.pathTo(folder.parent)), folder] : [];
  }

  contentPath(file: string, version: number): string {
    return join(this.home, 'content', file, String(version));
  }

  /**
   * Keeps a file's next version; a name that the folder does not hold becomes a new file.
   *
   * @param path names of folders from the root, made where they are missing
   */
  async add(path: string[], name: string, by: string, body: Readable): Promise<ShelfFile> {
    const draft = join(this.home, 'content', `${uuidv7()}.part`);
    try {
      await pipeline(body, createWriteStream(draft));
      const folder = path.reduce((parent, part) => this.childFolder(parent, part), ROOT);
      let file = this.filesIn(folder).find((other) => other.name === name);
      if (!file) this.contents.files.push((file = { id: uuidv7(), name, folder, versions: [] }));
      const number = file.versions.length + 1;
      await mkdir(join(this.home, 'content', file.id), { recursive: true });
      await rename(draft, this.contentPath(file.id, number));
      const { size } = await stat(this.contentPath(file.id, number));
      file.versions.push({ number, bytes: size, at: new Date().toISOString(), by });
      await this.save();
      return file;
    } finally {
      await rm(draft, { force: true });
    }
  }

  subscriptionsTo(file: string): Subscription[] {
    return this.contents.subscriptions.filter((subscription) => subscription.file === file);
  }

  async subscribe(subscription: Omit<Subscription, 'id'>): Promise<Subscription> {
    const made = { id: uuidv7(), ...subscription };
    this.contents.subscriptions.push(made);
    await this.save();
    return made;
  }

  /** Returns whether there was one. */
  async unsubscribe(id: string): Promise<boolean> {
    const at = this.contents.subscriptions.findIndex((subscription) => subscription.id === id);
    if (at < 0) return false;
    this.contents.subscriptions.splice(at, 1);
    await this.save();
    return true;
  }

  private childFolder(parent: string, name: string): string {
    const found = this.foldersIn(parent).find((folder) => folder.name === name);
    if (found) return found.id;
    const id = uuidv7();
    this.contents.folders.push({ id, name, parent });
    return id;
  }

  /** One write after the other, each in one step. */
  private save(): Promise<void> {
    this.writing = this.writing.then(async () => {
      const draft = join(this.home, 'shelf.json.part');
      await writeFile(draft, JSON.stringify(this.contents));
      await rename(draft, join(this.home, 'shelf.json'));
    });
    return this.writing;
  }
}

function byName(a: { name: string }, b: { name: string }): number {
  return a.name.localeCompare(b.name, 'en');
}
