import { sql } from 'drizzle-orm';
import type { Transaction } from '@/db/database';
import { attachments, comments, snapshots, viewpoints } from '@/db/schema';
import type { Actor } from '../access/access';
import { config } from '../config';
import { Problem } from '../problems';

/**
 * Keeps what a guest stores within bounds; accounts are known people. Counted are pictures, files and views.
 *
 * @param more bytes that come
 * @throws Problem 413 where that would be more than one guest may have
 */
export async function checkGuestRoom(tx: Transaction, actor: Actor, more: number): Promise<void> {
  if (actor.kind !== 'guest' || more === 0) return;
  const { rows } = await tx.execute<{ bytes: number }>(sql`
    select coalesce(sum(bytes), 0)::float8 as bytes from (
      select coalesce(octet_length(${comments.picture}), 0) + coalesce(pg_column_size(${comments.view}), 0) as bytes
        from ${comments} where ${comments.authorId} = ${actor.id}
      union all
      select ${attachments.size} from ${attachments} where ${attachments.byId} = ${actor.id}
      union all
      select coalesce(octet_length(${viewpoints.picture}), 0) + pg_column_size(${viewpoints.state})
        from ${viewpoints} where ${viewpoints.authorId} = ${actor.id}
      union all
      select octet_length(${snapshots.picture}) from ${snapshots} where ${snapshots.authorId} = ${actor.id}
    ) as stored`);
  if (rows[0]!.bytes + more <= config().maxGuestBytes) return;
  throw new Problem(
    413,
    'That is more in pictures, views and files than a guest may store here. Say it in words, or ask the architect for an account.',
  );
}

/** What a view takes, in bytes; none takes nothing. */
export function sizeOfView(view: unknown): number {
  return view === undefined || view === null ? 0 : Buffer.byteLength(JSON.stringify(view));
}
