import { rm, stat } from 'node:fs/promises';
import { and, eq, inArray, max, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { readPublishSettings, type PublishIntent, type PublishSettings } from '@/core/project/publish-settings';
import { withholdsNothing } from '@/core/reveal/reveal-rule';
import { revisionCode } from '@/core/revision-code';
import type { PlacementChoice } from '@/core/placement/placement';
import type { PublishReport, FrameAsRead } from '@/core/project/publish-report';
import { db, type Transaction } from '@/db/database';
import { models, revisions, user } from '@/db/schema';
import { authorise, requireUser, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { notify } from '../mail/notices';
import { notFound, Problem } from '../problems';
import { record } from '../review/activities';
import { enqueue } from './queue';
import { announceKey, holdKey, letGoOfKeys } from '../storage/leftovers';
import { revisionKey, sourceKey, storage } from '../storage/storage';

export interface PublishRequest {
  projectId: string;
  /** An existing model gets its next revision; without it, a new model is made from `modelName`. */
  modelId?: string;
  modelName?: string;
  discipline?: string;
  note: string;
  /** Where a new model stands; by default as its file says. */
  placement?: PlacementChoice;
  /** What was decided about the file of a new model. */
  settings?: PublishSettings;
  /** Whether to publish as soon as it is read (the default), or to look at it first. */
  intent?: PublishIntent;
  fileName: string;
  path: string;
}

/**
 * Takes a finished upload into the store and queues its publication. The upload goes once the store and the database have
 * it, and stays if that fails. Returns the revision's id.
 */
export async function requestPublication(actor: Actor, request: PublishRequest): Promise<string> {
  const id = await takeFile(actor, request);
  await rm(request.path, { force: true });
  return id;
}

/** Takes a file into the store, which stays where it was as well, and queues its publication. Returns the revision's id. */
export async function takeFile(actor: Actor, request: PublishRequest): Promise<string> {
  requireUser(actor);
  await authorise(actor, request.projectId, 'model.publish');
  const { size } = await stat(request.path);
  const id = uuidv7();
  let modelId = request.modelId;
  let { settings = {} } = request;
  if (modelId) {
    const [model] = await db()
      .select()
      .from(models)
      .where(and(eq(models.id, modelId), eq(models.projectId, request.projectId)));
    if (!model) throw notFound('The model');
    settings = readPublishSettings(model.settings);
  }
  await announceKey(sourceKey(id));
  await (await storage()).keepFile(request.path, sourceKey(id));
  await db().transaction(async (tx) => {
    await holdKey(tx, sourceKey(id));
    if (!modelId) {
      modelId = uuidv7();
      await tx.insert(models).values({
        id: modelId,
        projectId: request.projectId,
        name: request.modelName ?? request.fileName.replace(/\.[^.]+$/, ''),
        discipline: request.discipline ?? 'Architecture',
        ...(request.placement && { placement: request.placement }),
      });
    }
    await tx.insert(revisions).values({
      id,
      projectId: request.projectId,
      modelId,
      state: 'queued',
      note: request.note,
      fileName: request.fileName,
      fileBytes: size,
      authorId: actor.id,
      intent: request.intent ?? 'publish',
      settings,
    });
  });
  await enqueue(id);
  await tellProject(request.projectId, 'jobs-changed');
  return id;
}

/** How a revision stands that goes into the queue again. */
function queued() {
  return { state: 'queued', phase: 'waiting', share: 0, attempts: 0, queuedAt: new Date(), endedAt: null } as const;
}

/** Queues a failed publication again, with the same file. */
export async function retryPublication(actor: Actor, revisionId: string): Promise<void> {
  const revision = await findRevision(revisionId);
  await authorise(actor, revision.projectId, 'model.publish');
  const again = await db()
    .update(revisions)
    .set({ ...queued(), error: null })
    .where(and(eq(revisions.id, revisionId), eq(revisions.state, 'failed')))
    .returning({ id: revisions.id });
  if (again.length === 0) throw new Problem(409, 'Only a failed publication can be tried again.');
  await enqueue(revisionId);
  await tellProject(revision.projectId, 'models-changed');
}

/**
 * Stops a publication that waits or runs. Its file is kept, and it can be tried again; the worker that is on it notices
 * within seconds.
 *
 * @throws Problem 409 if it is over already
 */
export async function stopPublication(actor: Actor, revisionId: string): Promise<void> {
  const revision = await findRevision(revisionId);
  await authorise(actor, revision.projectId, 'model.publish');
  const reason = `Stopped by ${actor.name}. The file is kept; nothing that was published before has changed.`;
  const stopped = await db()
    .update(revisions)
    .set({ state: 'failed', error: reason, endedAt: new Date() })
    .where(and(eq(revisions.id, revisionId), inArray(revisions.state, ['queued', 'running'])))
    .returning({ id: revisions.id });
  if (stopped.length === 0)
    throw new Problem(409, 'This publication is over already. Load the page again to see how it stands.');
  if (revision.authorId !== actor.id) await notify(revision.authorId, revision, 'failed', reason);
  await tellProject(revision.projectId, 'models-changed');
}

/**
 * Decides about a revision that is ready: how its numbers are meant, what to reveal and mend, whether to publish it. Reads the
 * file again where that changes what is published; otherwise what was looked at becomes the revision.
 *
 * @throws Problem 409 if it is not ready
 */
export async function decideRevision(
  actor: Actor,
  revisionId: string,
  decided: PublishSettings & { publish: boolean },
): Promise<void> {
  const revision = await readyRevision(actor, revisionId);
  const { publish, ...given } = decided;
  const { frame, findings } = revision.report!;
  const before = readPublishSettings(revision.settings);
  const settings: PublishSettings = publish ? { ...before, ...agreedFrame(frame), ...given } : { ...before, ...given };
  const meant = { ...frame, ...settings.frame };
  const sameFrame = meant.metresPerUnit === frame.metresPerUnit && meant.up === frame.up;
  const mends = findings.some((finding) => settings.mend?.includes(finding.kind));
  const asLookedAt = sameFrame && withholdsNothing(settings.reveal) && !mends && !settings.surfaces?.length;
  const isReadAgain = !(publish && asLookedAt) && (publish || !sameFrame);
  await db().transaction(async (tx) => {
    // Of several who decide at once one is first; what the others looked at is not waiting any more.
    const decidedNow = await tx
      .update(revisions)
      .set({ settings, ...(isReadAgain && { ...queued(), intent: publish ? 'publish' : 'look' }) })
      .where(and(eq(revisions.id, revisionId), eq(revisions.state, 'ready')))
      .returning({ id: revisions.id });
    if (decidedNow.length === 0) throw notReady();
    if (publish && asLookedAt) await releaseRevision(tx, revisionId);
  });
  if (isReadAgain) await enqueue(revisionId);
  await tellProject(revision.projectId, 'models-changed');
}

/** Publishing agrees with what was proposed, so that the next revision is not asked again. */
function agreedFrame({ from, metresPerUnit, up }: FrameAsRead): Pick<PublishSettings, 'frame'> {
  return from === 'proposed' ? { frame: { metresPerUnit, up } } : {};
}

/**
 * Publishes a part of what a revision that is ready shows as a new model of its own, from the same file and in the same
 * place. The revision stays ready.
 *
 * @returns the id of the new model's first revision
 * @throws Problem 409 if it is not ready
 */
export async function publishPart(
  actor: Actor,
  revisionId: string,
  { name, ...given }: PublishSettings & { name: string },
): Promise<string> {
  const { projectId, modelId, fileName, note, settings, report } = await readyRevision(actor, revisionId);
  const [model] = await db().select().from(models).where(eq(models.id, modelId));
  const { discipline, placement } = model!;
  return (await storage()).withFile(sourceKey(revisionId), (path) =>
    takeFile(actor, {
      projectId,
      modelName: name,
      discipline,
      placement,
      settings: { ...readPublishSettings(settings), ...agreedFrame(report!.frame), ...given },
      note,
      fileName,
      path,
    }),
  );
}

/** Removes a revision that was only looked at or failed, with its file; and its model, if that has no other. */
export async function discardRevision(actor: Actor, revisionId: string): Promise<void> {
  const revision = await findRevision(revisionId);
  await authorise(actor, revision.projectId, 'model.publish');
  await db().transaction(async (tx) => {
    const gone = await tx
      .delete(revisions)
      .where(and(eq(revisions.id, revisionId), inArray(revisions.state, ['ready', 'failed'])))
      .returning({ id: revisions.id });
    if (gone.length === 0)
      throw new Problem(409, 'Only what was not published can be put aside. Withdraw this revision instead.');
    const rest = await tx.select({ id: revisions.id }).from(revisions).where(eq(revisions.modelId, revision.modelId));
    if (rest.length === 0) await tx.delete(models).where(eq(models.id, revision.modelId));
    await letGoOfKeys(tx, keysOf(revision));
  });
  await tellProject(revision.projectId, 'models-changed');
}

/** Where a revision's files lie in the store. */
function keysOf({ id, contentId }: typeof revisions.$inferSelect): string[] {
  return [sourceKey(id), ...(contentId ? [revisionKey(contentId)] : [])];
}

async function readyRevision(actor: Actor, revisionId: string) {
  const revision = await findRevision(revisionId);
  await authorise(actor, revision.projectId, 'model.publish');
  if (revision.state !== 'ready') throw notReady();
  return revision;
}

function notReady(): Problem {
  return new Problem(409, 'This revision is not waiting to be looked at. Load the page again to see how it stands.');
}

/**
 * Stores what reading a revision's file gave, and leaves it ready to be looked at or publishes it, in one step. The files
 * that an earlier reading gave are no longer needed.
 *
 * @param claim the revision as the worker took it
 * @param release whether to publish
 * @returns how it ended; null if it was stopped or went to another worker meanwhile, then nothing is stored
 */
export async function finishReading(
  claim: typeof revisions.$inferSelect,
  result: { report: PublishReport; contentId: string },
  release: boolean,
): Promise<'published' | 'ready' | null> {
  return db().transaction(async (tx) => {
    const stored = await tx
      .update(revisions)
      .set({ state: 'ready', phase: 'done', share: 1, endedAt: new Date(), ...result })
      .where(isHeldBy(claim))
      .returning({ id: revisions.id });
    if (stored.length === 0) return null;
    if (!(await holdKey(tx, revisionKey(result.contentId))))
      throw new Error('Storing took so long that what was stored has been removed.');
    if (claim.contentId) await letGoOfKeys(tx, [revisionKey(claim.contentId)]);
    if (release) await releaseRevision(tx, claim.id);
    return release ? 'published' : 'ready';
  });
}

/** Whether a revision is still worked on by the worker that took it as `claim`. */
export function isHeldBy({ id, startedAt }: typeof revisions.$inferSelect) {
  return and(eq(revisions.id, id), eq(revisions.state, 'running'), eq(revisions.startedAt, startedAt!));
}

/** Gives a ready revision its number and makes it the newest of its model. */
async function releaseRevision(tx: Transaction, revisionId: string): Promise<void> {
  const [revision] = await tx.select().from(revisions).where(eq(revisions.id, revisionId)).for('update');
  if (revision?.state !== 'ready') return;
  const number = await nextNumber(tx, revision.modelId);
  await tx
    .update(revisions)
    .set({ state: 'published', number, publishedAt: new Date() })
    .where(eq(revisions.id, revisionId));
  const [model] = await tx
    .update(models)
    .set({ settings: revision.settings })
    .where(eq(models.id, revision.modelId))
    .returning({ name: models.name });
  const [author] = await tx.select({ name: user.name }).from(user).where(eq(user.id, revision.authorId));
  await record(tx, {
    projectId: revision.projectId,
    by: { id: revision.authorId, name: author?.name ?? '' },
    kind: 'published',
    subjectId: revisionId,
    text: publishedText(model!.name, number, revision.note),
  });
}

/** What was published, as one line: “Architecture P03: Bench across the path”. */
export function publishedText(model: string, number: number, note: string): string {
  return `${model} ${revisionCode(number)}${note ? `: ${note}` : ''}`;
}

/** The number of a model's next published revision; nobody else gets it until the transaction ends. */
export async function nextNumber(tx: Transaction, modelId: string): Promise<number> {
  await tx.select({ id: models.id }).from(models).where(eq(models.id, modelId)).for('update');
  const [last] = await tx
    .select({ number: max(revisions.number) })
    .from(revisions)
    .where(eq(revisions.modelId, modelId));
  return (last?.number ?? 0) + 1;
}

export async function findRevision(revisionId: string) {
  if (!/^[0-9a-f-]{36}$/.test(revisionId)) throw notFound('The revision');
  const [revision] = await db().select().from(revisions).where(eq(revisions.id, revisionId));
  if (!revision) throw notFound('The revision');
  return revision;
}

/** The revision whose files lie under an address; of several the one that most people may see. */
export async function findByContent(contentId: string) {
  const [revision] = await db()
    .select()
    .from(revisions)
    .where(eq(revisions.contentId, contentId))
    .orderBy(sql`${revisions.withdrawnAt} is not null`)
    .limit(1);
  if (!revision) throw notFound('The revision');
  return revision;
}
