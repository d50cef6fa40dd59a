import { and, eq, gt, lt } from 'drizzle-orm';
import { db } from '@/db/database';
import { meetingPresence } from '@/db/schema';

/**
 * Who is connected to which node, as each node says every few seconds. What a node has not said for a while does not hold any
 * more: a node that was killed needs not be asked.
 */

/** A node says this often who is connected to it. */
export const SAY_MS = 1500;
/** What was not said for so long does not hold. */
const HOLDS_MS = 5000;

/** Who is in which meeting. */
export interface Present {
  meetingId: string;
  participant: string;
}

/** Says who is there by a node: everybody again and again, and each at once who comes. */
export async function sayPresent(node: string, people: readonly Present[]): Promise<void> {
  if (people.length === 0) return;
  const seenAt = new Date();
  await db()
    .insert(meetingPresence)
    .values(people.map((one) => ({ ...one, node, seenAt })))
    .onConflictDoUpdate({
      target: [meetingPresence.meetingId, meetingPresence.participant, meetingPresence.node],
      set: { seenAt },
    });
}

/** Somebody's last connection to a node is gone. */
export async function depart(node: string, meetingId: string, participant: string): Promise<void> {
  await db()
    .delete(meetingPresence)
    .where(
      and(
        eq(meetingPresence.node, node),
        eq(meetingPresence.meetingId, meetingId),
        eq(meetingPresence.participant, participant),
      ),
    );
}

/** Forgets what nodes have not said for long. */
export async function forgetPresence(): Promise<void> {
  await db()
    .delete(meetingPresence)
    .where(lt(meetingPresence.seenAt, new Date(Date.now() - 12 * HOLDS_MS)));
}

/** Who is in a meeting, by whichever node. */
export async function presentIn(meetingId: string): Promise<Set<string>> {
  const rows = await db()
    .select({ participant: meetingPresence.participant })
    .from(meetingPresence)
    .where(and(eq(meetingPresence.meetingId, meetingId), gt(meetingPresence.seenAt, new Date(Date.now() - HOLDS_MS))));
  return new Set(rows.map(({ participant }) => participant));
}
