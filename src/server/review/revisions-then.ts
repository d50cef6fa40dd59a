import { and, asc, eq } from 'drizzle-orm';
import { db } from '@/db/database';
import { revisions } from '@/db/schema';

interface Published {
  id: string;
  modelId: string;
  number: number;
  publishedAt: Date;
  withdrawnAt: Date | null;
}

/**
 * Which revisions stood from when on between two instants: of each model the newest that was published and not taken back by
 * then. A model of which nothing was published by then is in none.
 */
export function revisionsThen(all: readonly Published[], from: Date, to: Date): { at: string; ids: string[] }[] {
  const turns = all
    .flatMap(({ publishedAt, withdrawnAt }) => [publishedAt, ...(withdrawnAt ? [withdrawnAt] : [])])
    .filter((at) => at > from && at <= to)
    .sort((a, b) => a.getTime() - b.getTime());
  const steps = [from, ...turns].map((at) => ({ at: at.toISOString(), ids: standing(all, at) }));
  return steps.filter(({ ids }, i) => i === 0 || ids.join() !== steps[i - 1]!.ids.join());
}

function standing(all: readonly Published[], at: Date): string[] {
  const newest = new Map<string, Published>();
  for (const one of all) {
    const stood = one.publishedAt <= at && (one.withdrawnAt === null || one.withdrawnAt > at);
    if (stood && one.number > (newest.get(one.modelId)?.number ?? 0)) newest.set(one.modelId, one);
  }
  return [...newest.values()].map(({ id }) => id).sort();
}

/** The same of all that was published in a project. */
export async function revisionsOf(projectId: string, from: Date, to: Date): Promise<{ at: string; ids: string[] }[]> {
  const published = await db()
    .select({
      id: revisions.id,
      modelId: revisions.modelId,
      number: revisions.number,
      publishedAt: revisions.publishedAt,
      withdrawnAt: revisions.withdrawnAt,
    })
    .from(revisions)
    .where(and(eq(revisions.projectId, projectId), eq(revisions.state, 'published')))
    .orderBy(asc(revisions.number));
  return revisionsThen(
    published.map((one) => ({ ...one, number: one.number!, publishedAt: one.publishedAt! })),
    from,
    to,
  );
}
