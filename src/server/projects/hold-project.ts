import { eq } from 'drizzle-orm';
import type { Transaction } from '@/db/database';
import { projects } from '@/db/schema';

/**
 * Until the transaction ends nobody else who holds the project numbers or orders anything in it: who reads the last number or
 * the order then reads it as it is. Rows that refer to the project are not kept waiting.
 */
export async function holdProject(tx: Transaction, projectId: string): Promise<void> {
  await tx.select({ id: projects.id }).from(projects).where(eq(projects.id, projectId)).for('no key update');
}
