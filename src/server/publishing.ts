import { mkdir, readFile, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { and, eq, max } from 'drizzle-orm';
import PgBoss from 'pg-boss';
import { v7 as uuidv7 } from 'uuid';
import { db } from '@/db/database';
import { elementProperties, models, revisions } from '@/db/schema';
import type { PropertySets } from '@/formats/building-model';
import type { PublishReport } from '@/core/project/publish-report';
import { convert } from '@/publish/convert';
import { authorise, requireUser, type Actor } from './access';
import { tellProject } from './broadcast';
import { config } from './config';
import { notFound, Problem } from './problems';
import { moveIntoStorage, replaceFolder, revisionKey, sourceKey, storagePath } from './storage';

const QUEUE = 'publish';
const PROGRESS_MS = 250;

interface PublishJob {
  revisionId: string;
}

const shared = globalThis as typeof globalThis & { yurtaBoss?: Promise<PgBoss> };

/** The queue, opened on first use in this process. */
export function queue(): Promise<PgBoss> {
  shared.yurtaBoss ??= (async () => {
    const boss = new PgBoss({ connectionString: process.env.DATABASE_URL!, max: 4 });
    boss.on('error', (error) => process.stderr.write(`queue: ${error.message}\n`));
    await boss.start();
    await boss.createQueue(QUEUE, {
      name: QUEUE,
      retryLimit: 2,
      retryDelay: 2,
      expireInSeconds: Math.ceil(config().jobMinutes * 60) + 60,
    });
    return boss;
  })();
  return shared.yurtaBoss;
}

export interface PublishRequest {
  projectId: string;
  /** An existing model gets its next revision; without it, a new model is made from `modelName`. */
  modelId?: string;
  modelName?: string;
  discipline?: string;
  note: string;
  fileName: string;
  /** A finished upload; it is moved into the store. */
  path: string;
}

/** Takes a file into the store and queues its publication. Returns the revision's id. */
export async function requestPublication(actor: Actor, request: PublishRequest): Promise<string> {
  requireUser(actor);
  await authorise(actor, request.projectId, 'model.publish');
  const { size } = await stat(request.path);
  const id = uuidv7();
  let modelId = request.modelId;
  if (modelId) {
    const [model] = await db()
      .select()
      .from(models)
      .where(and(eq(models.id, modelId), eq(models.projectId, request.projectId)));
    if (!model) throw notFound('The model');
  }
  await moveIntoStorage(request.path, sourceKey(id));
  await db().transaction(async (tx) => {
    if (!modelId) {
      modelId = uuidv7();
      await tx.insert(models).values({
        id: modelId,
        projectId: request.projectId,
        name: request.modelName ?? request.fileName.replace(/\.[^.]+$/, ''),
        discipline: request.discipline ?? 'Architecture',
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
    });
  });
  await (await queue()).send(QUEUE, { revisionId: id } satisfies PublishJob);
  await tellProject(request.projectId, 'models-changed');
  return id;
}

/** Queues a failed publication again, with the same file. */
export async function retryPublication(actor: Actor, revisionId: string): Promise<void> {
  const revision = await findRevision(revisionId);
  await authorise(actor, revision.projectId, 'model.publish');
  if (revision.state !== 'failed') throw new Problem(409, 'Only a failed publication can be tried again.');
  await db()
    .update(revisions)
    .set({ state: 'queued', stage: 'waiting', share: 0, error: null })
    .where(eq(revisions.id, revisionId));
  await (await queue()).send(QUEUE, { revisionId } satisfies PublishJob);
  await tellProject(revision.projectId, 'models-changed');
}

export async function findRevision(revisionId: string) {
  if (!/^[0-9a-f-]{36}$/.test(revisionId)) throw notFound('The revision');
  const [revision] = await db().select().from(revisions).where(eq(revisions.id, revisionId));
  if (!revision) throw notFound('The revision');
  return revision;
}

/** The facts of one element, by its row or its guid. */
export async function readFacts(actor: Actor, revisionId: string, element: number): Promise<PropertySets> {
  const revision = await findRevision(revisionId);
  await authorise(actor, revision.projectId, 'project.read');
  const [row] = await db()
    .select({ sets: elementProperties.sets })
    .from(elementProperties)
    .where(and(eq(elementProperties.revisionId, revisionId), eq(elementProperties.element, element)));
  return (row?.sets ?? {}) as PropertySets;
}

/** Works on publications until the process ends. One at a time; more workers are more processes. */
export async function startWorker(): Promise<void> {
  const boss = await queue();
  await boss.work<PublishJob>(QUEUE, { pollingIntervalSeconds: 0.5 }, async ([job]) => {
    if (job) await publish(job.data.revisionId);
  });
}

async function publish(revisionId: string): Promise<void> {
  const [revision] = await db().select().from(revisions).where(eq(revisions.id, revisionId));
  if (!revision || revision.state === 'published') return;
  const work = join(config().dataFolder, 'work', revisionId);
  await rm(work, { recursive: true, force: true });
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
    await replaceFolder(work, revisionKey(revisionId));
    await db().transaction(async (tx) => {
      await tx.select().from(models).where(eq(models.id, revision.modelId)).for('update');
      const [last] = await tx
        .select({ number: max(revisions.number) })
        .from(revisions)
        .where(eq(revisions.modelId, revision.modelId));
      await tx
        .update(revisions)
        .set({
          state: 'published',
          number: (last?.number ?? 0) + 1,
          stage: 'done',
          share: 1,
          publishedAt: new Date(),
          report,
        })
        .where(eq(revisions.id, revisionId));
    });
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
function convertRevision(revision: typeof revisions.$inferSelect, outFolder: string): Promise<PublishReport> {
  const { jobMinutes, jobMemoryMb } = config();
  let lastShown = 0;
  return convert({
    path: storagePath(sourceKey(revision.id)),
    fileName: revision.fileName,
    outFolder,
    limits: { minutes: jobMinutes, memoryMb: jobMemoryMb },
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
