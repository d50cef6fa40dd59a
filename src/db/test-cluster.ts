import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import { createDatabase, startCluster } from './cluster';
import { migrateDatabase } from './migrate';

declare module 'vitest' {
  interface ProvidedContext {
    databaseUrl: string;
  }
}

/** Vitest's global set-up: a real PostgreSQL with a fresh database for this run. */
export default async function setup(project: TestProject) {
  const cluster = await startCluster(join(process.cwd(), '.yurta', 'test'));
  const url = await createDatabase(cluster.url, `unit_${Date.now()}`);
  await migrateDatabase(url);
  project.provide('databaseUrl', url);
  return () => cluster.stop();
}
