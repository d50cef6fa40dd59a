import { mkdir, readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { and, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { PublishReport } from '@/core/project/publish-report';
import { db } from '@/db/database';
import { elementProperties, revisions } from '@/db/schema';
import type { PropertySets } from '@/formats/building-model';
import { convert } from '@/publish/convert';
import { tellProject } from './broadcast';
import { config } from './config';
import { workOnQueue } from './publish-queue';
import { finishReading } from './publishing';
import { replaceFolder, revisionKey, sourceKey, storagePath } from './storage';

type Revision = typeof revisions.$inferSelect;

const PROGRESS_MS = 250;

export function startWorker(): Promise<void> {
  return workOnQueue(publish);
}

/** Reads a revision's file and makes its folder; then publishes it, or leaves it ready for somebody to look at. */
async function publish(revisionId: string): Promise<void> {
  const [revision] = await db().select().from(revisions).where(eq(revisions.id, revisionId));
  if (!revision || revision.state === 'published' || revision.state === 'ready') return;
  const contentId = uuidv7();
  const work = join(config().dataFolder, 'work', contentId);
  await mkdir(work, { recursive: true });
  await db()
    .update(revisions)
    .set({ state: 'running', stage: 'reading', share: 0, startedAt: new Date(), error: null })
    .where(eq(revisions.id, revisionId));
  await tellProject(revision.projectId, 'models-changed');
  try {
    const report = await convertRevision(revision, work);
    if (report.counts.elements > config().maxElements)
      throw new Error(
        `The file holds ${report.counts.elements} elements; this installation allows ${config().maxElements}.`,
      );
    await storeProperties(revisionId, join(work, 'properties.json'));
    await rm(join(work, 'properties.json'));
    await replaceFolder(work, revisionKey(contentId));
    // A scale that was only guessed is for somebody to agree with.
    const release = revision.intent === 'publish' && report.frame.from !== 'proposed';
    await finishReading(revisionId, { report, contentId }, release);
    if (revision.contentId) await rm(storagePath(revisionKey(revision.contentId)), { recursive: true, force: true });
  } catch (error) {
    await rm(work, { recursive: true, force: true });
    const reason = error instanceof Error ? error.message : String(error);
    await db()
      .update(revisions)
      .set({ state: 'failed', error: `${reason} The file is kept; nothing that was published before has changed.` })
      .where(eq(revisions.id, revisionId));
  }
  await tellProject(revision.projectId, 'models-changed');
}

/** Converts the file and shows the progress on the way. */
function convertRevision(revision: Revision, outFolder: string): Promise<PublishReport> {
  const { jobMinutes, jobMemoryMb } = config();
  let lastShown = 0;
  return convert({
    path: storagePath(sourceKey(revision.id)),
    fileName: revision.fileName,
    outFolder,
    limits: { minutes: jobMinutes, memoryMb: jobMemoryMb },
    // To be looked at, everything is there: what to reveal is still to be decided.
    settings: revision.intent === 'look' ? { frame: revision.settings.frame } : revision.settings,
    onProgress: (stage, share) => {
      if (Date.now() - lastShown < PROGRESS_MS) return;
      lastShown = Date.now();
      // Progress is a courtesy: losing one step of it must not fail the job.
      db()
        .update(revisions)
        .set({ stage, share })
        .where(and(eq(revisions.id, revision.id), eq(revisions.state, 'running')))
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
