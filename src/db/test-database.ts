import { createDatabase } from './cluster';
import { migrateDatabase } from './migrate';

/** Gives a test file a database of its own, where it looks at what the whole installation does. Before any connection. */
export async function useOwnDatabase(name: string): Promise<void> {
  process.env.DATABASE_URL = await createDatabase(process.env.DATABASE_URL!, `${name}_${Date.now()}`);
  await migrateDatabase(process.env.DATABASE_URL);
}
