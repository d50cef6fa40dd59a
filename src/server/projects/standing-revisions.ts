import { and, eq, isNull } from 'drizzle-orm';
import { revisions } from '@/db/schema';

/** Which revisions people see: published and not taken back. */
export function stands() {
  return and(eq(revisions.state, 'published'), isNull(revisions.withdrawnAt));
}
