import { and, eq, isNull, lt } from 'drizzle-orm';
import { db } from '@/db/database';
import { answeredRequests } from '@/db/schema';
import { Problem } from '../problems';

/** An answer as it goes out. */
export interface Answer {
  status: number;
  body: unknown;
}

/** Who has not answered for so long has died over it. */
const GIVEN_UP_MS = 2 * 60_000;
/** After so long nobody asks again. */
const KEPT_MS = 24 * 60 * 60_000;

/**
 * Does what a request asks for once: the same request again, after an answer that was lost on the way, gets the same answer.
 * What fails is not kept, so that it can be tried again.
 *
 * @param key by which one person knows the request
 * @param about what it asks for; a key means one thing
 * @throws Problem 409 while it is being done, 422 for a key that meant something else
 */
export async function answerOnce(key: string, about: string, work: () => Promise<Answer>): Promise<Answer> {
  const now = new Date();
  const claimed = await db()
    .insert(answeredRequests)
    .values({ key, about, at: now })
    .onConflictDoUpdate({
      target: answeredRequests.key,
      set: { at: now },
      setWhere: and(
        isNull(answeredRequests.status),
        eq(answeredRequests.about, about),
        lt(answeredRequests.at, new Date(now.getTime() - GIVEN_UP_MS)),
      ),
    })
    .returning({ key: answeredRequests.key });
  if (claimed.length === 0) return answeredBefore(key, about);
  try {
    const answer = await work();
    await db().update(answeredRequests).set(answer).where(eq(answeredRequests.key, key));
    return answer;
  } catch (error) {
    await db().delete(answeredRequests).where(eq(answeredRequests.key, key));
    throw error;
  }
}

async function answeredBefore(key: string, about: string): Promise<Answer> {
  const [before] = await db().select().from(answeredRequests).where(eq(answeredRequests.key, key));
  if (before && before.about !== about)
    throw new Problem(422, 'This Idempotency-Key was used for another request. Use a new one for each.');
  if (!before || before.status === null)
    throw new Problem(409, 'This request is being done. Ask again in a moment for its answer.');
  return { status: before.status, body: before.body };
}

/** Forgets answers that nobody asks for again. Returns how many went. */
export async function forgetAnswers(now = Date.now()): Promise<number> {
  const gone = await db()
    .delete(answeredRequests)
    .where(lt(answeredRequests.at, new Date(now - KEPT_MS)))
    .returning({ key: answeredRequests.key });
  return gone.length;
}
