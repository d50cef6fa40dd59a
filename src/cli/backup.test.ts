import { randomBytes } from 'node:crypto';
import { mkdir, mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { closeConnection } from '@/db/database';
import { createDatabase } from '@/db/cluster';
import { useOwnDatabase } from '@/db/test-database';
import { createProject } from '@/server/projects/projects';
import { say } from '@/server/review/comments';
import { startMeeting } from '@/server/review/meetings';
import { saveViewpoint } from '@/server/review/viewpoints';
import { testAccount } from '@/server/test-people';
import { Bucket } from '@/server/storage/bucket';
import { startObjectStore } from '@/stand-ins/object-store/object-store';
import { readBackup, writeBackup } from './backup';

let folder: string;
let source: string;
beforeAll(async () => {
  await useOwnDatabase('backup');
  source = process.env.DATABASE_URL!;
  folder = await mkdtemp(join(tmpdir(), 'backup-test-'));
  const lead = (await testAccount('Lead')).actor;
  const project = await createProject(lead, 'Bücherei 🌿', 'Lindenau');
  await saveViewpoint(lead, project, 'Court', INITIAL_VIEW, Buffer.from([1, 2, 3]));
  await startMeeting(lead, project, 'Evening');
  await say(lead, project, { text: 'שלום', picture: Buffer.alloc(5000, 7) });
  await mkdir(join(folder, 'old', 'storage', 'revisions', 'r1', 'tiles'), { recursive: true });
  await writeFile(join(folder, 'old', 'storage', 'revisions', 'r1', 'tiles', '0.glb'), Buffer.alloc(100_000, 3));
  await writeFile(join(folder, 'old', 'secret'), 'a'.repeat(40), { mode: 0o600 });
});
afterAll(async () => {
  await closeConnection();
  await rm(folder, { recursive: true, force: true });
});

/** Every table with the number of its rows and a sum over all they hold. */
async function contents(databaseUrl: string): Promise<Record<string, string>> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const { rows: tables } = await client.query<{ name: string }>(
    `select format('%I.%I', table_schema, table_name) as name from information_schema.tables
     where table_schema in ('public', 'drizzle') and table_type = 'BASE TABLE'`,
  );
  const sums: Record<string, string> = {};
  for (const { name } of tables) {
    const { rows } = await client.query<{ sum: string }>(
      `select count(*) || ' ' || coalesce(md5(string_agg(t::text, '|' order by t::text)), '') as sum from ${name} t`,
    );
    sums[name] = rows[0]!.sum;
  }
  await client.end();
  return sums;
}

describe('a backup', () => {
  it('brings everything back into an empty place: every row, every file, the key', async () => {
    const file = join(folder, 'kept', 'yurta.tar');
    expect(await writeBackup({ databaseUrl: source, dataFolder: join(folder, 'old') }, file)).toBeGreaterThan(100_000);
    expect((await stat(file)).mode & 0o077, 'for its owner alone').toBe(0);
    const databaseUrl = await createDatabase(source, `restored_${Date.now()}`);
    const dataFolder = join(folder, 'new');
    await readBackup(file, { databaseUrl, dataFolder });
    const before = await contents(source);
    expect(Number(before['public.comments']!.split(' ')[0])).toBe(1);
    expect(await contents(databaseUrl)).toEqual(before);
    const tile = join('storage', 'revisions', 'r1', 'tiles', '0.glb');
    expect((await readFile(join(dataFolder, tile))).equals(await readFile(join(folder, 'old', tile)))).toBe(true);
    expect(await readFile(join(dataFolder, 'secret'), 'utf8')).toBe('a'.repeat(40));
    // Not over what is there.
    await expect(readBackup(file, { databaseUrl, dataFolder: join(folder, 'other') })).rejects.toThrow(/not empty/);
    const empty = await createDatabase(source, `empty_${Date.now()}`);
    await expect(readBackup(file, { databaseUrl: empty, dataFolder })).rejects.toThrow(/is there already/);
  });

  it('takes along what lies in a bucket, and brings it to where the new place keeps its files', async () => {
    const key = { keyId: 'yurta', secret: 'felt-and-ink' };
    const stores = await Promise.all(['one', 'two'].map((name) => startObjectStore(join(folder, name), 0, { bucket: 'models', ...key }))); // prettier-ignore
    const [old, fresh] = stores.map(({ url }) => new Bucket({ url, region: 'us-east-1', ...key })) as [Bucket, Bucket];
    const tile = join(folder, 'tile');
    await writeFile(tile, Buffer.alloc(70_000, 5));
    for (let i = 0; i < 12; i++) await old.keepFile(tile, `revisions/r2/tiles/${i} ü.glb`);
    const file = join(folder, 'bucket.tar');
    const dataFolder = join(folder, 'of-bucket');
    await mkdir(dataFolder);
    expect(await writeBackup({ databaseUrl: source, dataFolder, bucket: old }, file)).toBeGreaterThan(12 * 70_000);
    const places = [
      { dataFolder: join(folder, 'to-bucket'), bucket: fresh },
      { dataFolder: join(folder, 'to-folder') },
    ];
    for (const place of places)
      await readBackup(file, { databaseUrl: await createDatabase(source, `b_${randomBytes(4).toString('hex')}`), ...place }); // prettier-ignore
    const there = await fresh.withFile('revisions/r2/tiles/11 ü.glb', (path) => readFile(path));
    expect(there.equals(Buffer.alloc(70_000, 5))).toBe(true);
    const local = await readFile(join(folder, 'to-folder', 'storage', 'revisions', 'r2', 'tiles', '0 ü.glb'));
    expect(local.equals(there)).toBe(true);
    await Promise.all(stores.map((store) => store.close()));
  });

  it('that is none is refused in words, and leaves the place empty', async () => {
    const databaseUrl = await createDatabase(source, `none_${Date.now()}`);
    const dataFolder = join(folder, 'none');
    for (const [name, content, words] of [
      ['missing.tar', null, /no file/],
      ['noise.tar', Buffer.alloc(5000, 9), /not a backup that can be read/],
      ['empty.tar', Buffer.alloc(10_240), /not a backup of Yurta/],
    ] as const) {
      if (content) await writeFile(join(folder, name), content);
      await expect(readBackup(join(folder, name), { databaseUrl, dataFolder })).rejects.toThrow(words);
    }
    expect(await contents(databaseUrl)).toEqual({});
  });
});
