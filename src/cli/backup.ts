import { execFile } from 'node:child_process';
import { existsSync } from 'node:fs';
import { chmod, mkdir, mkdtemp, readdir, readFile, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join, resolve } from 'node:path';
import { promisify } from 'node:util';
import pg from 'pg';
import { postgresPrograms } from '@/db/cluster';
import { migrateDatabase } from '@/db/migrate';
import type { Bucket } from '@/server/storage/bucket';

const run = promisify(execFile);

const FORMAT = 'yurta-backup';
const VERSION = 1;
/** What of the data folder goes along beside the database: files, and the key to what is sealed in it. */
const PARTS = ['storage', 'secret'] as const;

interface Manifest {
  format: typeof FORMAT;
  version: number;
  at: string;
}

/** An installation: its database, its data folder, and the bucket in which its files lie instead, if they do. */
export interface Installation {
  databaseUrl: string;
  dataFolder: string;
  bucket?: Pick<Bucket, 'copyTo' | 'copyFrom'> | null;
}

/**
 * Writes a whole installation into one file (tar), also while it runs: the database as one instant, then the files, of which
 * none that the database knew then goes for hours. Those of a bucket are copied beside it first. The file is as secret as the installation.
 *
 * @returns its bytes
 */
export async function writeBackup({ databaseUrl, dataFolder, bucket }: Installation, file: string): Promise<number> {
  const target = resolve(file);
  await mkdir(dirname(target), { recursive: true });
  const work = await mkdtemp(join(dirname(target), '.backup-'));
  try {
    await postgres('pg_dump', databaseUrl, ['--format=custom', '--no-owner', '--file', join(work, 'database.dump')]);
    const manifest: Manifest = { format: FORMAT, version: VERSION, at: new Date().toISOString() };
    await writeFile(join(work, 'manifest.json'), JSON.stringify(manifest));
    if (bucket) {
      await mkdir(join(work, 'storage'));
      await bucket.copyTo(join(work, 'storage'));
    }
    const places = PARTS.map((part) => ({ part, folder: bucket && part === 'storage' ? work : dataFolder }));
    const parts = places.filter(({ part, folder }) => existsSync(join(folder, part))).flatMap(({ part, folder }) => ['-C', folder, part]); // prettier-ignore
    const whole = join(work, 'whole.tar');
    await writeFile(whole, '', { mode: 0o600 });
    await tar(['-cf', whole, '--ignore-failed-read', '-C', work, 'manifest.json', 'database.dump', ...parts]); // prettier-ignore
    await chmod(whole, 0o600);
    await rename(whole, target);
    return (await stat(target)).size;
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

/**
 * Brings an installation back from a file, into a place where there is none, and up to this version. Files go where this place
 * keeps them, in a bucket or its data folder, wherever they lay before.
 *
 * @throws Error where the place is not empty, or the file is no backup or of a later version
 */
export async function readBackup(file: string, { databaseUrl, dataFolder, bucket }: Installation): Promise<Manifest> {
  if (!existsSync(file)) throw new Error(`There is no file ${file}.`);
  await mkdir(dataFolder, { recursive: true });
  if (await hasTables(databaseUrl)) throw new Error('The database is not empty. Restore into a new data folder (YURTA_DATA) or an empty database.'); // prettier-ignore
  if (existsSync(join(dataFolder, 'storage'))) throw new Error(`${join(dataFolder, 'storage')} is there already. Restore into a new data folder (YURTA_DATA).`); // prettier-ignore
  const work = await mkdtemp(join(dataFolder, '.restore-'));
  try {
    await tar(['-xf', resolve(file), '-C', work, '--no-same-owner']).catch(() => {
      throw new Error(`${file} is not a backup that can be read: it is damaged, or something else.`);
    });
    const manifest = await readManifest(join(work, 'manifest.json'), file);
    await postgres('pg_restore', databaseUrl, ['--no-owner', '--exit-on-error', '--single-transaction', join(work, 'database.dump')]); // prettier-ignore
    for (const part of PARTS) {
      if (!existsSync(join(work, part))) continue;
      if (bucket && part === 'storage') {
        await bucket.copyFrom(join(work, part));
        continue;
      }
      await rm(join(dataFolder, part), { recursive: true, force: true });
      await rename(join(work, part), join(dataFolder, part));
    }
    await migrateDatabase(databaseUrl);
    return manifest;
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

async function readManifest(path: string, file: string): Promise<Manifest> {
  const text = await readFile(path, 'utf8').catch(() => '{}');
  const manifest = JSON.parse(text) as Partial<Manifest>;
  if (manifest.format !== FORMAT || typeof manifest.version !== 'number' || !manifest.at)
    throw new Error(`${file} is not a backup of Yurta.`);
  if (manifest.version > VERSION) throw new Error(`${file} was made by a later version. Install that one first.`);
  return manifest as Manifest;
}

async function hasTables(databaseUrl: string): Promise<boolean> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    const { rows } = await client.query<{ n: string }>(
      `select count(*) as n from information_schema.tables where table_schema not in ('pg_catalog', 'information_schema')`,
    );
    return Number(rows[0]!.n) > 0;
  } finally {
    await client.end();
  }
}

/** Runs one of PostgreSQL's own programs. The password goes by the environment, where a list of processes does not show it. */
async function postgres(program: string, databaseUrl: string, args: string[]): Promise<void> {
  const bin = postgresPrograms();
  const url = new URL(databaseUrl);
  const env = {
    ...process.env,
    PGHOST: url.hostname,
    PGPORT: url.port || '5432',
    PGUSER: decodeURIComponent(url.username),
    PGPASSWORD: decodeURIComponent(url.password),
    PGDATABASE: url.pathname.slice(1),
  };
  const named = program === 'pg_restore' ? ['--dbname', env.PGDATABASE] : [];
  await run(bin ? join(bin, program) : program, [...named, ...args], { env, maxBuffer: 16 * 1024 * 1024 });
}

async function tar(args: string[]): Promise<void> {
  await run('tar', args, { maxBuffer: 16 * 1024 * 1024 });
}

/** Whether a data folder holds an installation already. */
export async function holdsInstallation(dataFolder: string): Promise<boolean> {
  return existsSync(dataFolder) && (await readdir(dataFolder)).some((name) => ['storage', 'postgres'].includes(name));
}
