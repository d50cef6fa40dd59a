import { join } from 'node:path';
import { createDatabase, startCluster } from './cluster';
import { migrateDatabase } from './migrate';

/** Vitest's global set-up: a real PostgreSQL with a fresh database for this run, named in DATABASE_URL. */
export default async function setup() {
  const cluster = await startCluster(join(process.cwd(), '.yurta', 'test'));
  // Interrupted, Vitest leaves without taking down what was set up.
  process.once('exit', () => void cluster.stop());
  process.env.DATABASE_URL = await createDatabase(cluster.url, `unit_${Date.now()}`);
  process.env.YURTA_DATA = join('.yurta', 'test');
  await migrateDatabase(process.env.DATABASE_URL);
  return () => cluster.stop();
}
