import { eq } from 'drizzle-orm';
import { db } from '@/db/database';
import { revisions } from '@/db/schema';

/** Waits for the end of a revision's job, which a worker of the test works on. */
export async function settled(id: string, seconds = 20): Promise<typeof revisions.$inferSelect> {
  for (let i = 0; i < seconds * 10; i++) {
    const [row] = await db().select().from(revisions).where(eq(revisions.id, id));
    if (['published', 'failed', 'ready'].includes(row!.state)) return row!;
    await new Promise((done) => setTimeout(done, 100));
  }
  throw new Error('the job did not end');
}
