import { eq, sql } from 'drizzle-orm';
import type { Transaction } from '@/db/database';
import { attachments, comments } from '@/db/schema';
import type { Actor } from '../access/access';
import { config } from '../config';
import { Problem } from '../problems';

/**
 * Keeps what a guest stores within bounds; accounts are known people.
 *
 * @param more bytes that come
 * @throws Problem 413 where that would be more than one guest may have
 */
export async function checkGuestRoom(tx: Transaction, actor: Actor, more: number): Promise<void> {
  if (actor.kind !== 'guest' || more === 0) return;
  const [said] = await tx
    .select({ bytes: sql<number>`coalesce(sum(octet_length(${comments.picture})), 0)::float8` })
    .from(comments)
    .where(eq(comments.authorId, actor.id));
  const [files] = await tx
    .select({ bytes: sql<number>`coalesce(sum(${attachments.size}), 0)::float8` })
    .from(attachments)
    .where(eq(attachments.byId, actor.id));
  if ((said?.bytes ?? 0) + (files?.bytes ?? 0) + more <= config().maxGuestBytes) return;
  throw new Problem(
    413,
    'That is more in pictures and files than a guest may store here. Say it in words, or ask the architect for an account.',
  );
}
