import { mkdir, readFile, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { and, eq, lt, or, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { NoticeKind } from '@/core/jobs/notice';
import type { PublishPhase } from '@/core/jobs/phase';
import { readPublishSettings } from '@/core/project/publish-settings';
import type { PublishReport } from '@/core/project/publish-report';
import { db } from '@/db/database';
import { elementProperties, models, revisions } from '@/db/schema';
import type { PropertySets } from '@/formats/building-model';
import { convert } from '@/publish/conversion/convert';
import { WarmConverter } from '@/publish/conversion/warm-converter';
import { tellProject } from '../broadcast';
import { config } from '../config';
import { lookAfterSources, take } from '../model-store/take';
import { notify } from '../mail/notices';
import { sendQueued } from '../mail/queued';
import { finishReading, isHeldBy } from './publishing';
import { enqueue, workOnMail, workOnQueue, workOnTaking } from './queue';
import { announceKey, giveUpKey, removeLeftovers } from '../storage/leftovers';
import { revisionKey, sourceKey, storage } from '../storage/storage';
import { storeTrouble } from '../storage/trouble';
import { workFolder } from '../storage/work-folder';

type Revision = typeof revisions.$inferSelect;

const PROGRESS_MS = 250;
/** The share of a job that is over when its file is converted. */
const CONVERTING = 0.97;

/** A worker that works on a revision says so this often … */
const BEAT_MS = 2000;
/** … and is given up when it has said nothing for so long. */
const SILENT_MS = 15_000;
const LOOK_MS = 5000;
const MOST_ATTEMPTS = 3;

/**
 * Works on queued revisions, one at a time, on mail that is due and on versions to take from the model store. Looks after revisions whose worker went down in the
 * middle: they go on here or elsewhere. Removes from the store what nothing holds. Returns how to stop looking.
 *
 * @param sample a model as IFC text, to have a converter ready with; without one, the first file waits for it
 */
export async function startWorker(sample?: () => string): Promise<() => void> {
  const limits = { minutes: config().jobMinutes, memoryMb: config().jobMemoryMb };
  const warm = sample && new WarmConverter({ sample, folder: workFolder(), limits });
  await workOnQueue((revisionId) => (warm ? warm.during(() => publish(revisionId)) : publish(revisionId)));
  if (config().smtpUrl) await workOnMail(sendQueued);
  if (config().modelStore) await workOnTaking(take);
  const look = setInterval(() => {
    resumeAbandoned().catch((error: Error) =>
      process.stderr.write(`abandoned work not looked for: ${error.message}\n`),
    );
    lookAfterSources().catch((error: Error) =>
      process.stderr.write(`model store not looked after: ${error.message}\n`),
    );
    removeLeftovers().catch((error: Error) => process.stderr.write(`leftovers not removed: ${error.message}\n`));
  }, LOOK_MS);
  return () => {
    clearInterval(look);
    warm?.end();
  };
}

/** Queues anew what is said to be running but has no living worker. */
async function resumeAbandoned(): Promise<void> {
  const abandoned = await db()
    .select({ id: revisions.id })
    .from(revisions)
    .where(and(eq(revisions.state, 'running'), isSilent()));
  for (const { id } of abandoned) await enqueue(id);
}

function isSilent() {
  return lt(revisions.beatAt, new Date(Date.now() - SILENT_MS));
}

/** Takes a revision for this worker, unless another one has it, or it is done; in one step, so that only one gets it. */
async function claim(revisionId: string): Promise<Revision | undefined> {
  const [revision] = await db()
    .update(revisions)
    .set({
      state: 'running',
      phase: 'reading',
      share: 0,
      startedAt: new Date(),
      phaseAt: new Date(),
      beatAt: new Date(),
      endedAt: null,
      worker: `${hostname()}#${process.pid}`,
      attempts: sql`${revisions.attempts} + 1`,
      error: null,
    })
    .where(
      and(
        eq(revisions.id, revisionId),
        or(eq(revisions.state, 'queued'), and(eq(revisions.state, 'running'), isSilent())),
      ),
    )
    .returning();
  return revision;
}

/** Reads a revision's file and makes its folder; then publishes it, or leaves it ready for somebody to look at. */
async function publish(revisionId: string): Promise<void> {
  const revision = await claim(revisionId);
  if (!revision) return;
  const contentId = uuidv7();
  const key = revisionKey(contentId);
  const work = join(workFolder(), contentId);
  const files = await storage();
  await tellProject(revision.projectId, 'jobs-changed');
  const stop = new AbortController();
  const beat = setInterval(() => {
    db()
      .update(revisions)
      .set({ beatAt: new Date() })
      .where(isHeldBy(revision))
      .returning({ id: revisions.id })
      .then((held) => {
        if (held.length === 0) stop.abort();
      })
      .catch((error: Error) => process.stderr.write(`beat not stored: ${error.message}\n`));
  }, BEAT_MS);
  let end: { kind: NoticeKind; reason?: string } | null = null;
  try {
    if (revision.attempts > MOST_ATTEMPTS)
      throw new Error(`The worker ended ${MOST_ATTEMPTS} times in the middle of “${revision.fileName}”.`);
    await mkdir(work, { recursive: true });
    const report = await files.withFile(sourceKey(revision.id), (path) =>
      convertRevision(revision, path, work, stop.signal),
    );
    if (report.counts.elements > config().maxElements)
      throw new Error(
        `The file holds ${report.counts.elements} elements; this installation allows ${config().maxElements}.`,
      );
    await showProgress(revision, { phase: 'storing', share: CONVERTING, phaseAt: new Date() });
    await storeProperties(revisionId, join(work, 'properties.json'));
    await rm(join(work, 'properties.json'));
    await announceKey(key);
    await files.takeFolder(work, key);
    // A scale that was only guessed is for somebody to agree with.
    const release = revision.intent === 'publish' && report.frame.from !== 'proposed';
    const outcome = await finishReading(revision, { report, contentId }, release);
    if (outcome) end = { kind: outcome };
    else await giveUpKey(key);
  } catch (error) {
    // Where the disk is away, what was begun is removed later with all that was abandoned.
    await rm(work, { recursive: true, force: true }).catch((lost: Error) =>
      process.stderr.write(`work folder not removed: ${lost.message}\n`),
    );
    const cause = storeTrouble(error)?.message ?? (error instanceof Error ? error.message : String(error));
    const reason = `${cause} The file is kept; nothing that was published before has changed.`;
    const failed = await db()
      .update(revisions)
      .set({ state: 'failed', error: reason, endedAt: new Date() })
      .where(isHeldBy(revision)) // whoever stopped it has said why
      .returning({ id: revisions.id });
    if (failed.length > 0) end = { kind: 'failed', reason };
    await giveUpKey(key);
  } finally {
    clearInterval(beat);
  }
  if (end) await notify(revision.authorId, revision, end.kind, end.reason);
  await tellProject(revision.projectId, 'models-changed');
}

/** Converts the file and shows the progress on the way. */
async function convertRevision(
  revision: Revision,
  path: string,
  outFolder: string,
  signal: AbortSignal,
): Promise<PublishReport> {
  const { jobMinutes, jobMemoryMb } = config();
  const [model] = await db().select().from(models).where(eq(models.id, revision.modelId));
  const settings = readPublishSettings(revision.settings);
  let lastShown = 0;
  let lastPhase = '';
  return convert({
    path,
    fileName: revision.fileName,
    outFolder,
    discipline: model?.discipline,
    limits: { minutes: jobMinutes, memoryMb: jobMemoryMb },
    signal,
    // To be looked at, everything is there: what to reveal is still to be decided.
    settings: revision.intent === 'look' ? { frame: settings.frame } : settings,
    onProgress: (phase, share) => {
      const begins = phase !== lastPhase;
      if (!begins && Date.now() - lastShown < PROGRESS_MS) return;
      lastShown = Date.now();
      lastPhase = phase;
      // Progress is a courtesy: losing one step of it must not fail the job.
      showProgress(revision, { phase, share: share * CONVERTING, ...(begins && { phaseAt: new Date() }) }).catch(
        (error: Error) => process.stderr.write(`progress not stored: ${error.message}\n`),
      );
    },
  });
}

async function showProgress(
  revision: Revision,
  progress: { phase: PublishPhase; share: number; phaseAt?: Date },
): Promise<void> {
  await db().update(revisions).set(progress).where(isHeldBy(revision));
  await tellProject(revision.projectId, 'jobs-changed');
}

async function storeProperties(revisionId: string, path: string): Promise<void> {
  const rows = JSON.parse(await readFile(path, 'utf8')) as { guid: string; sets: PropertySets }[];
  await db().delete(elementProperties).where(eq(elementProperties.revisionId, revisionId));
  const BATCH = 1000;
  for (let start = 0; start < rows.length; start += BATCH) {
    await db()
      .insert(elementProperties)
      .values(
        rows
          .slice(start, start + BATCH)
          .map(({ guid, sets }, i) => ({ revisionId, element: start + i, guid, sets: withoutNul(sets) })),
      );
  }
}

/** PostgreSQL's JSON cannot hold the character U+0000, which some exports pad their texts with. */
function withoutNul(sets: PropertySets): PropertySets {
  return JSON.parse(JSON.stringify(sets).replaceAll('\\u0000', '')) as PropertySets;
}
