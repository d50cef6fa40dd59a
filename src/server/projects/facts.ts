import { and, eq, sql } from 'drizzle-orm';
import { factText } from '@/core/elements/meets';
import type { FactName, FactValue } from '@/core/project/fact';
import { db } from '@/db/database';
import { elementProperties } from '@/db/schema';
import type { PropertySets } from '@/formats/building-model';
import type { Actor } from '../access/access';
import { authoriseRevision } from './projects';
import { findRevision } from '../publishing/publishing';

/** More than these nobody chooses from. */
const MOST_NAMES = 3000;
const MOST_VALUES = 500;

/** The facts of one element, by its row or its guid. */
export async function readFacts(actor: Actor, revisionId: string, element: number): Promise<PropertySets> {
  const revision = await findRevision(revisionId);
  await authoriseRevision(actor, revision);
  const [row] = await db()
    .select({ sets: elementProperties.sets })
    .from(elementProperties)
    .where(and(eq(elementProperties.revisionId, revisionId), eq(elementProperties.element, element)));
  return (row?.sets ?? {}) as PropertySets;
}

/** Which facts a revision's elements have, by set and name. */
export async function listFacts(actor: Actor, revisionId: string): Promise<FactName[]> {
  await authoriseRevision(actor, await findRevision(revisionId));
  const { rows } = await db().execute<{ set: string; name: string; elements: number }>(sql`
    select s.key as set, f.key as name, count(*)::int as elements
    from ${elementProperties} p, jsonb_each(p.sets) s, jsonb_each(s.value) f
    where p.revision_id = ${revisionId}
    group by 1, 2 order by 1, 2 limit ${MOST_NAMES}`);
  return rows;
}

/** The values of one fact with the rows of their elements, the most frequent first. */
export async function listFactValues(
  actor: Actor,
  revisionId: string,
  set: string,
  name: string,
): Promise<FactValue[]> {
  await authoriseRevision(actor, await findRevision(revisionId));
  return factValues(revisionId, set, name);
}

/** The same, for whom may see the revision. */
export async function factValues(revisionId: string, set: string, name: string): Promise<FactValue[]> {
  const { rows } = await db().execute<{ value: unknown; elements: number[] }>(sql`
    select sets -> ${set}::text -> ${name}::text as value, array_agg(element order by element) as elements
    from ${elementProperties}
    where revision_id = ${revisionId} and sets -> ${set}::text ? ${name}::text
    group by 1 order by count(*) desc, 1 limit ${MOST_VALUES}`);
  return rows
    .filter(({ value }) => value !== null)
    .map(({ value, elements }) => ({ value: factText(value), elements }));
}
