import { randomBytes } from 'node:crypto';
import { and, asc, desc, eq, isNull, lte, sql } from 'drizzle-orm';
import { Webhook } from 'standardwebhooks';
import { v7 as uuidv7 } from 'uuid';
import { addressOf, type ActivityKind } from '@/core/project/activity';
import type { WebhookSummary } from '@/core/exchange/webhook';
import { db } from '@/db/database';
import { activities, projects, webhookDeliveries, webhooks } from '@/db/schema';
import { authorise, requirePerson, type Actor } from '../access/access';
import { seal, unseal } from '../access/seal';
import { config } from '../config';
import { notFound, Problem } from '../problems';
import { asActivity } from '../review/activities';
import { ask } from './outgoing';

const SEALED = 'webhook';
const MOST_HOOKS = 10;
const AT_ONCE = 20;
/** Seconds after which something is told again; after the last of them it is given up. */
const WAITS = [5, 30, 120, 600, 3600, 6 * 3600, 12 * 3600];

/**
 * Lets a program be told what is done in a project. Requests are signed as Standard Webhooks describes it (HMAC-SHA256 over
 * id, time and body).
 *
 * @returns the secret, which is shown this once
 */
export async function addWebhook(
  actor: Actor,
  projectId: string,
  url: string,
  kinds: ActivityKind[],
): Promise<{ id: string; secret: string }> {
  requirePerson(actor);
  await authorise(actor, projectId, 'exchange.manage');
  const there = await db().select({ id: webhooks.id }).from(webhooks).where(eq(webhooks.projectId, projectId));
  if (there.length >= MOST_HOOKS) throw new Problem(409, `A project tells ${MOST_HOOKS} programs. Remove one first.`);
  const secret = `whsec_${randomBytes(24).toString('base64')}`;
  const id = uuidv7();
  await db()
    .insert(webhooks)
    .values({ id, projectId, url, kinds, secret: seal(SEALED, secret), createdBy: actor.id });
  return { id, secret };
}

export async function removeWebhook(actor: Actor, projectId: string, id: string): Promise<void> {
  await authorise(actor, projectId, 'exchange.manage');
  const gone = await db()
    .delete(webhooks)
    .where(and(eq(webhooks.id, id), eq(webhooks.projectId, projectId)))
    .returning({ id: webhooks.id });
  if (gone.length === 0) throw notFound('The program');
}

/** The programs that are told, each with how the last deliveries went. */
export async function listWebhooks(actor: Actor, projectId: string): Promise<WebhookSummary[]> {
  await authorise(actor, projectId, 'exchange.manage');
  const rows = await db().select().from(webhooks).where(eq(webhooks.projectId, projectId)).orderBy(asc(webhooks.id));
  return Promise.all(
    rows.map(async ({ id, url, kinds, createdAt }) => {
      const [last] = await db()
        .select()
        .from(webhookDeliveries)
        .where(and(eq(webhookDeliveries.webhookId, id), sql`${webhookDeliveries.tries} > 0`))
        .orderBy(desc(webhookDeliveries.activityId))
        .limit(1);
      const [waiting] = await db()
        .select({ n: sql<number>`count(*)::int` })
        .from(webhookDeliveries)
        .where(and(eq(webhookDeliveries.webhookId, id), isNull(webhookDeliveries.doneAt)));
      return {
        id,
        url,
        kinds,
        createdAt: createdAt.toISOString(),
        last: last ? { status: last.status, trouble: last.trouble, tries: last.tries } : null,
        waiting: waiting!.n,
      };
    }),
  );
}

/** Tells programs what is due to be told. Of several processes each tells others of it. Returns how many requests were made. */
export async function deliverWebhooks(): Promise<number> {
  await db().execute(sql`
    insert into ${webhookDeliveries} (webhook_id, activity_id)
    select w.id, a.id from ${webhooks} w
    join ${activities} a on a.project_id = w.project_id and a.at >= w.created_at and w.kinds ? a.kind
    where a.at > now() - interval '3 days'
      and not exists (select 1 from ${webhookDeliveries} d where d.webhook_id = w.id and d.activity_id = a.id)
    on conflict do nothing`);
  const now = new Date();
  // Taken for as long as an answer may take, so that nobody else tells it meanwhile, and told again where this process ends.
  const taken = await db().transaction(async (tx) => {
    const due = await tx
      .select()
      .from(webhookDeliveries)
      .where(and(isNull(webhookDeliveries.doneAt), lte(webhookDeliveries.nextAt, now)))
      .orderBy(asc(webhookDeliveries.activityId))
      .limit(AT_ONCE)
      .for('update', { skipLocked: true });
    for (const { webhookId, activityId } of due)
      await tx
        .update(webhookDeliveries)
        .set({ nextAt: new Date(now.getTime() + 30_000) })
        .where(and(eq(webhookDeliveries.webhookId, webhookId), eq(webhookDeliveries.activityId, activityId)));
    return due;
  });
  await Promise.all(taken.map(deliver));
  return taken.length;
}

async function deliver({ webhookId, activityId, tries }: typeof webhookDeliveries.$inferSelect): Promise<void> {
  const [row] = await db()
    .select({ hook: webhooks, activity: activities, project: projects.name })
    .from(webhooks)
    .innerJoin(activities, eq(activities.id, activityId))
    .innerJoin(projects, eq(projects.id, webhooks.projectId))
    .where(eq(webhooks.id, webhookId));
  if (!row) return;
  const activity = asActivity(row.activity, row.project);
  const { at, kind, by, subjectId, text, projectId, project } = activity;
  const body = JSON.stringify({
    type: kind,
    timestamp: at,
    data: { project: { id: projectId, name: project }, by: by.name, subject: subjectId, text, url: `${config().publicUrl}${addressOf(activity)}` }, // prettier-ignore
  });
  const sentAt = new Date();
  const answer = await ask(row.hook.url, {
    method: 'POST',
    body,
    headers: {
      'webhook-id': activityId,
      'webhook-timestamp': String(Math.floor(sentAt.getTime() / 1000)),
      'webhook-signature': new Webhook(unseal(SEALED, row.hook.secret)).sign(activityId, sentAt, body),
    },
  }).then(
    ({ status }) => ({ status, trouble: status >= 200 && status < 300 ? '' : `It answered ${status}.` }),
    (error: Error) => ({ status: null, trouble: error.message }),
  );
  const isDone = answer.trouble === '';
  const wait = WAITS[tries];
  await db()
    .update(webhookDeliveries)
    .set({
      ...answer,
      tries: tries + 1,
      doneAt: isDone || wait === undefined ? new Date() : null,
      nextAt: new Date(Date.now() + (wait ?? 0) * 1000),
    })
    .where(and(eq(webhookDeliveries.webhookId, webhookId), eq(webhookDeliveries.activityId, activityId)));
}

/** Forgets what was told long ago. */
export async function forgetDeliveries(): Promise<void> {
  const LONG_MS = 14 * 24 * 60 * 60 * 1000;
  await db()
    .delete(webhookDeliveries)
    .where(lte(webhookDeliveries.doneAt, new Date(Date.now() - LONG_MS)));
}
