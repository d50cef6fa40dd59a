import { and, eq, isNull } from 'drizzle-orm';
import { db } from '@/db/database';
import { revisions } from '@/db/schema';

/** Which revisions people see: published and not taken back. */
export function stands() {
  return and(eq(revisions.state, 'published'), isNull(revisions.withdrawnAt));
}

/**
 * The revision that has the file from which a content was made: one that was made the newest again has none of its own, but that
 * of the revision that it repeats.
 */
export async function sourceOf(contentId: string): Promise<string> {
  const [first] = await db()
    .select({ id: revisions.id })
    .from(revisions)
    .where(eq(revisions.contentId, contentId))
    .orderBy(revisions.createdAt)
    .limit(1);
  return first!.id;
}
