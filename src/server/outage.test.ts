import { sql } from 'drizzle-orm';
import { drizzle } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import { describe, expect, it } from 'vitest';
import { db } from '@/db/database';
import { freePort } from '@/db/free-port';
import { outage } from './outage';
import { Problem } from './problems';

/** What goes wrong in some work. */
const wrong = (work: PromiseLike<unknown>) =>
  Promise.resolve(work).then(
    () => new Error('nothing went wrong'),
    (error: unknown) => error,
  );

describe('an outage', () => {
  it('is a database that refuses, ends a connection, or is too slow', async () => {
    const nowhere = drizzle(new pg.Pool({ connectionString: `postgres://x@127.0.0.1:${await freePort()}/x` }));
    const errors = [
      await wrong(nowhere.execute(sql`select 1`)),
      await wrong(nowhere.transaction((tx) => tx.execute(sql`select 1`))),
      await wrong(db().execute(sql`select pg_terminate_backend(pg_backend_pid())`)),
      await wrong(
        db().transaction(async (tx) => {
          await tx.execute(sql`set local statement_timeout = 20`);
          await tx.execute(sql`select pg_sleep(5)`);
        }),
      ),
    ];
    for (const error of errors) expect(outage(error), String(error)).toMatchObject({ status: 503 });
    const pool = new pg.Pool({ connectionString: process.env.DATABASE_URL, query_timeout: 50 });
    expect(outage(await wrong(drizzle(pool).execute(sql`select pg_sleep(0.3)`)))).toMatchObject({ status: 503 });
    await pool.end();
  });

  it('is a full disk, of the database or of the store', async () => {
    const full = await wrong(db().execute(sql`do $$ begin raise exception 'full' using errcode = '53100'; end $$`));
    expect(outage(full)).toMatchObject({ status: 507 });
    expect(outage(Object.assign(new Error('write'), { code: 'ENOSPC' }))).toMatchObject({ status: 507 });
  });

  it('is nothing else', async () => {
    expect(outage(await wrong(db().execute(sql`select * from nowhere`)))).toBeNull();
    expect(outage(new Problem(409, 'No.'))).toBeNull();
    expect(outage('text')).toBeNull();
  });
});
