import { drizzle, type NodePgDatabase } from 'drizzle-orm/node-postgres';
import pg from 'pg';
import * as schema from './schema';

export type Database = NodePgDatabase<typeof schema>;

interface Connection {
  url: string;
  pool: pg.Pool;
  database: Database;
}

// The gateway and Next load this module separately within one process; they share the pool.
const shared = globalThis as typeof globalThis & { yurtaConnection?: Connection };

/** The process's connection pool on DATABASE_URL, opened on first use. */
export function connection(): Connection {
  const url = process.env.DATABASE_URL;
  if (!url) throw new Error('DATABASE_URL is not set: start Yurta through ./yurta, which sets it.');
  if (shared.yurtaConnection?.url !== url) {
    const pool = new pg.Pool({
      connectionString: url,
      max: 12,
      // A database that hangs must not hold everything that asks it for ever.
      connectionTimeoutMillis: 5_000,
      statement_timeout: 20_000,
      query_timeout: 22_000,
      idle_in_transaction_session_timeout: 60_000,
    });
    // An idle connection that breaks (database restarted) is replaced by the pool on the next query.
    pool.on('error', (error) => process.stderr.write(`database connection lost: ${error.message}\n`));
    shared.yurtaConnection = { url, pool, database: drizzle(pool, { schema }) };
  }
  return shared.yurtaConnection;
}

export function db(): Database {
  return connection().database;
}

export async function closeConnection(): Promise<void> {
  await shared.yurtaConnection?.pool.end();
  shared.yurtaConnection = undefined;
}

/** The database within a transaction. */
export type Transaction = Parameters<Parameters<ReturnType<typeof db>['transaction']>[0]>[0];
