import { and, eq, isNotNull, isNull, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { revisionCode } from '@/core/revision-code';
import { db, type Transaction } from '@/db/database';
import { elementProperties, models, revisions } from '@/db/schema';
import { authorise, requireUser, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { Problem } from '../problems';
import { sourceOf } from '../projects/standing-revisions';
import { record } from '../review/activities';
import { findRevision, nextNumber, publishedText, takeFile } from './publishing';
import { sourceKey, storage } from '../storage/storage';

/** Takes a published revision back: only who may publish still sees it; the one before it shows again. */
export async function withdrawRevision(actor: Actor, revisionId: string): Promise<void> {
  await change(actor, revisionId, { withdrawnAt: new Date(), withdrawnBy: actor.name });
}

/** Lets a revision that was taken back stand again. */
export async function restoreRevision(actor: Actor, revisionId: string): Promise<void> {
  await change(actor, revisionId, { withdrawnAt: null, withdrawnBy: null });
}

async function change(actor: Actor, revisionId: string, set: Partial<typeof revisions.$inferInsert>): Promise<void> {
  const revision = await publishedRevision(actor, revisionId);
  await db().transaction(async (tx) => {
    // Done already by somebody else is done.
    const isTaken = set.withdrawnAt ? isNull(revisions.withdrawnAt) : isNotNull(revisions.withdrawnAt);
    const changed = await tx
      .update(revisions)
      .set(set)
      .where(and(eq(revisions.id, revisionId), isTaken))
      .returning({ id: revisions.id });
    if (changed.length === 0) return;
    const text = `${await modelName(tx, revision.modelId)} ${revisionCode(revision.number!)}`;
    const { projectId } = revision;
    await record(tx, {
      projectId,
      by: actor,
      kind: set.withdrawnAt ? 'withdrawn' : 'published',
      subjectId: revisionId,
      text: set.withdrawnAt ? text : `${text} once more`,
    });
  });
  await tellProject(revision.projectId, 'models-changed');
}

/**
 * Publishes an older revision once more, as the newest: it gets the next number and shares the files of the old one.
 *
 * @returns the new revision's id
 */
export async function repeatRevision(actor: Actor, revisionId: string): Promise<string> {
  requireUser(actor);
  const old = await publishedRevision(actor, revisionId);
  const id = uuidv7();
  await db().transaction(async (tx) => {
    const number = await nextNumber(tx, old.modelId);
    await tx.insert(revisions).values({
      ...old,
      id,
      number,
      note: `${revisionCode(old.number!)} again${old.note ? `: ${old.note}` : ''}`.slice(0, 500),
      authorId: actor.id,
      createdAt: new Date(),
      queuedAt: new Date(),
      publishedAt: new Date(),
      withdrawnAt: null,
      withdrawnBy: null,
      // It was no work for anybody.
      attempts: 0,
      worker: null,
      startedAt: null,
      endedAt: null,
    });
    await tx.execute(sql`
      insert into ${elementProperties} (revision_id, element, guid, sets)
      select ${id}, element, guid, sets from ${elementProperties} where revision_id = ${old.id}`);
    const { projectId, modelId } = old;
    const text = publishedText(await modelName(tx, modelId), number, `${revisionCode(old.number!)} again`);
    await record(tx, { projectId, by: actor, kind: 'published', subjectId: id, text });
  });
  await tellProject(old.projectId, 'models-changed');
  return id;
}

/**
 * Reads the file of a published revision once more, so that somebody can decide anew what of it shows and how; until they
 * publish that, nothing changes for anybody.
 *
 * @returns the new revision's id
 */
export async function lookAgain(actor: Actor, revisionId: string): Promise<string> {
  const old = await publishedRevision(actor, revisionId);
  const { projectId, modelId, fileName } = old;
  const note = `${revisionCode(old.number!)} decided anew${old.note ? `: ${old.note}` : ''}`.slice(0, 500);
  return (await storage()).withFile(sourceKey(await sourceOf(old.contentId!)), (path) =>
    takeFile(actor, { projectId, modelId, fileName, note, intent: 'look', path }),
  );
}

async function modelName(tx: Transaction, modelId: string): Promise<string> {
  const [model] = await tx.select({ name: models.name }).from(models).where(eq(models.id, modelId));
  return model!.name;
}

async function publishedRevision(actor: Actor, revisionId: string) {
  const revision = await findRevision(revisionId);
  await authorise(actor, revision.projectId, 'model.manage');
  if (revision.state !== 'published')
    throw new Problem(409, 'This revision is not published. Load the page again to see how it stands.');
  return revision;
}
