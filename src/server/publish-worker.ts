import { mkdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { and, eq, lt, or, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { PublishReport } from '@/core/project/publish-report';
import { db } from '@/db/database';
import { elementProperties, revisions } from '@/db/schema';
import type { PropertySets } from '@/formats/building-model';
import { convert } from '@/publish/convert';
import { tellProject } from './broadcast';
import { config } from './config';
import { enqueue, workOnQueue } from './publish-queue';
import { finishReading, isHeldBy } from './publishing';
import { replaceFolder, revisionKey, sourceKey, storagePath, workFolder } from './storage';

type Revision = typeof revisions.$inferSelect;

const PROGRESS_MS = 250;

/** A worker that works on a revision says so this often … */
const BEAT_MS = 2000;
/** … and is given up when it has said nothing for so long. */
const SILENT_MS = 15_000;
const LOOK_MS = 5000;
const MOST_ATTEMPTS = 3;

/**
 * Works on queued revisions, one at a time, and looks after those whose worker went down in the middle: they go on
 * here or elsewhere. Returns how to stop looking.
 */
export async function startWorker(): Promise<() => void> {
  await workOnQueue(publish);
  const look = setInterval(() => {
    resumeAbandoned().catch((error: Error) =>
      process.stderr.write(`abandoned work not looked for: ${error.message}\n`),
    );
  }, LOOK_MS);
  return () => clearInterval(look);
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
      stage: 'reading',
      share: 0,
      startedAt: new Date(),
      beatAt: new Date(),
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
  const work = join(workFolder(), contentId);
  await mkdir(work, { recursive: true });
  await tellProject(revision.projectId, 'models-changed');
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
  try {
    if (revision.attempts > MOST_ATTEMPTS)
      throw new Error(`The worker ended ${MOST_ATTEMPTS} times in the middle of “${revision.fileName}”.`);
    const report = await convertRevision(revision, work, stop.signal);
    if (report.counts.elements > config().maxElements)
      throw new Error(
        `The file holds ${report.counts.elements} elements; this installation allows ${config().maxElements}.`,
      );
    await storeProperties(revisionId, join(work, 'properties.json'));
    await rm(join(work, 'properties.json'));
    await replaceFolder(work, revisionKey(contentId));
    // A scale that was only guessed is for somebody to agree with.
    const release = revision.intent === 'publish' && report.frame.from !== 'proposed';
    if (!(await finishReading(revision, { report, contentId }, release))) {
      await rm(storagePath(revisionKey(contentId)), { recursive: true, force: true });
      return;
    }
    if (revision.contentId) await rm(storagePath(revisionKey(revision.contentId)), { recursive: true, force: true });
  } catch (error) {
    await rm(work, { recursive: true, force: true });
    const reason = error instanceof Error ? error.message : String(error);
    await db()
      .update(revisions)
      .set({ state: 'failed', error: `${reason} The file is kept; nothing that was published before has changed.` })
      .where(isHeldBy(revision)); // whoever stopped it has said why
  } finally {
    clearInterval(beat);
  }
  await tellProject(revision.projectId, 'models-changed');
}

/** Converts the file and shows the progress on the way. */
function convertRevision(revision: Revision, outFolder: string, signal: AbortSignal): Promise<PublishReport> {
  const { jobMinutes, jobMemoryMb } = config();
  let lastShown = 0;
  return convert({
    path: storagePath(sourceKey(revision.id)),
    fileName: revision.fileName,
    outFolder,
    limits: { minutes: jobMinutes, memoryMb: jobMemoryMb },
    signal,
    // To be looked at, everything is there: what to reveal is still to be decided.
    settings: revision.intent === 'look' ? { frame: revision.settings.frame } : revision.settings,
    onProgress: (stage, share) => {
      if (Date.now() - lastShown < PROGRESS_MS) return;
      lastShown = Date.now();
      // Progress is a courtesy: losing one step of it must not fail the job.
      db()
        .update(revisions)
        .set({ stage, share })
        .where(isHeldBy(revision))
        .then(() => tellProject(revision.projectId, 'models-changed'))
        .catch((error: Error) => process.stderr.write(`progress not stored: ${error.message}\n`));
    },
  });
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
