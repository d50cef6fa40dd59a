import { and, desc, eq, gt, inArray, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { type Activity, type ActivityKind } from '@/core/project/activity';
import { db, type Transaction } from '@/db/database';
import { activities, members, projects } from '@/db/schema';
import { authorise, requireUser, type Actor } from '../access/access';

const MOST_TEXT = 300;
const PAGE = 60;

/** What was done, as it is stored with the change itself. */
export interface Done {
  projectId: string;
  by: Pick<Actor, 'id' | 'name'>;
  kind: ActivityKind;
  subjectId: string;
  text?: string;
}

/** Writes down what was done, in the transaction that does it, so that neither stands without the other. */
export async function record(tx: Pick<Transaction, 'insert'>, done: Done): Promise<void> {
  const { projectId, by, kind, subjectId, text = '' } = done;
  await tx.insert(activities).values({
    id: uuidv7(),
    projectId,
    byId: by.id,
    byName: by.name,
    kind,
    subjectId,
    text: [...text].slice(0, MOST_TEXT).join(''),
  });
}

/** What of the feed is asked for. */
export interface FeedQuery {
  /** One project; without it all that this person is in. */
  projectId?: string;
  /** Only what this person did, by the name under which they did it. */
  by?: string;
  kinds?: readonly ActivityKind[];
  /** Only what is older than this activity. */
  before?: string;
}

/** What was done in one project or in all of this person's, newest first, a page at a time. */
export async function readFeed(actor: Actor, { projectId, by, kinds, before }: FeedQuery): Promise<Activity[]> {
  requireUser(actor);
  if (projectId) await authorise(actor, projectId, 'minutes.read');
  const rows = await db()
    .select({ activity: activities, project: projects.name })
    .from(activities)
    .innerJoin(projects, eq(projects.id, activities.projectId))
    .innerJoin(members, and(eq(members.projectId, activities.projectId), eq(members.userId, actor.id)))
    .where(
      and(
        projectId ? eq(activities.projectId, projectId) : undefined,
        by ? eq(activities.byName, by) : undefined,
        kinds?.length ? inArray(activities.kind, [...kinds]) : undefined,
        before
          ? sql`(${activities.at}, ${activities.id}) < (select a.at, a.id from ${activities} a where a.id = ${before})`
          : undefined,
      ),
    )
    .orderBy(desc(activities.at), desc(activities.id))
    .limit(PAGE);
  return rows.map(({ activity, project }) => asActivity(activity, project));
}

/** Names of those who did something in one project or in all of this person's, in alphabetical order. */
export async function feedPeople(actor: Actor, projectId: string | null): Promise<string[]> {
  requireUser(actor);
  const rows = await db()
    .selectDistinct({ name: activities.byName })
    .from(activities)
    .innerJoin(members, and(eq(members.projectId, activities.projectId), eq(members.userId, actor.id)))
    .where(projectId ? eq(activities.projectId, projectId) : undefined)
    .orderBy(activities.byName);
  return rows.map(({ name }) => name);
}

/** What others did in a person's projects after a moment, oldest first, as far as one mail holds it. */
export async function doneSince(userId: string, since: Date): Promise<Activity[]> {
  const rows = await db()
    .select({ activity: activities, project: projects.name })
    .from(activities)
    .innerJoin(projects, eq(projects.id, activities.projectId))
    .innerJoin(members, and(eq(members.projectId, activities.projectId), eq(members.userId, userId)))
    .where(and(gt(activities.at, since), sql`${activities.byId} <> ${userId}`))
    .orderBy(projects.name, activities.at, activities.id)
    .limit(500);
  return rows.map(({ activity, project }) => asActivity(activity, project));
}

export function asActivity(row: typeof activities.$inferSelect, project: string): Activity {
  const { id, projectId, at, byId, byName, kind, subjectId, text } = row;
  return { id, projectId, project, at: at.toISOString(), by: { id: byId, name: byName }, kind, subjectId, text };
}
