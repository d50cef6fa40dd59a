import { mkdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { and, eq, isNull, lt, or, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { db } from '@/db/database';
import { revisions, storeConnections, storeSources, user } from '@/db/schema';
import type { Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { config } from '../config';
import { Problem } from '../problems';
import { requestPublication } from '../publishing/publishing';
import { enqueueTaking } from '../publishing/queue';
import { uploadFolder } from '../publishing/uploads';
import { withAccess } from './connections';
import type { SourceRow } from './sources';
import { download, readFile, storeSettings } from './store-client';

/** Where notices are lost, a new version is seen after this long all the same. */
const LOOK_MS = 10 * 60 * 1000;

/** Remembers that a file has a newer version, and takes it if the file is followed. */
export async function noticeVersion(source: SourceRow, version: number): Promise<void> {
  const [changed] = await db()
    .update(storeSources)
    .set({ newestVersion: version })
    .where(and(eq(storeSources.id, source.id), lt(storeSources.newestVersion, version)))
    .returning();
  if (!changed) return;
  if (changed.follow) await enqueueTaking(source.id, await ownerOf(source));
  await tellProject(source.projectId, 'models-changed');
}

/**
 * Takes the newest version of a source and queues its publication, as the work of `userId`. Does nothing if that version
 * was taken. What fails is told on the source, and nothing of the version counts as taken.
 */
export async function take(sourceId: string, userId: string): Promise<void> {
  const [source] = await db().select().from(storeSources).where(eq(storeSources.id, sourceId));
  const actor = await person(userId);
  if (!source || !actor) return;
  const draft = join(uploadFolder(), `${uuidv7().replaceAll('-', '')}`);
  await mkdir(uploadFolder(), { recursive: true });
  try {
    const file = await withAccess(source.connectionId, (access) => readFile(access, source.fileId));
    const newest = file.versions.at(-1)!;
    if (newest.number <= (source.takenVersion ?? 0)) return;
    await withAccess(source.connectionId, (access) => download(access, source.fileId, newest.number, draft));
    await publishVersion(source, actor, newest, { path: draft, fileName: file.name });
  } catch (error) {
    const trouble = error instanceof Problem ? error.message : 'It could not be taken from the store. Try again.';
    if (!(error instanceof Problem))
      process.stderr.write(`version not taken: ${error instanceof Error ? error.stack : String(error)}\n`);
    await db().update(storeSources).set({ trouble }).where(eq(storeSources.id, sourceId));
  } finally {
    await rm(draft, { force: true });
    await tellProject(source.projectId, 'models-changed');
  }
}

async function publishVersion(
  source: SourceRow,
  actor: Actor,
  version: { number: number; by: string },
  file: { path: string; fileName: string },
): Promise<void> {
  // Whoever marks it as taken first publishes it; another who was as quick stops here.
  const claimed = await db()
    .update(storeSources)
    .set({ takenVersion: version.number, takenAt: new Date(), trouble: null })
    .where(
      and(
        eq(storeSources.id, source.id),
        or(isNull(storeSources.takenVersion), lt(storeSources.takenVersion, version.number)),
      ),
    )
    .returning({ id: storeSources.id });
  if (claimed.length === 0) return;
  try {
    const revisionId = await requestPublication(actor, {
      projectId: source.projectId,
      ...(source.modelId
        ? { modelId: source.modelId }
        : { modelName: source.modelName, discipline: source.discipline }),
      note: `Version ${version.number} from ${storeSettings().name}${version.by ? `, by ${version.by}` : ''}`,
      ...file,
    });
    const [revision] = await db()
      .select({ modelId: revisions.modelId })
      .from(revisions)
      .where(eq(revisions.id, revisionId));
    await db()
      .update(storeSources)
      .set({ revisionId, modelId: revision!.modelId, newestVersion: sql`greatest(newest_version, ${version.number})` })
      .where(eq(storeSources.id, source.id));
  } catch (error) {
    const { takenVersion, takenAt } = source;
    await db().update(storeSources).set({ takenVersion, takenAt }).where(eq(storeSources.id, source.id));
    throw error;
  }
}

/** Asks the store about sources that nobody has looked after for a while: notices can be lost. */
export async function lookAfterSources(now = Date.now()): Promise<void> {
  if (!config().modelStore) return;
  const due = await db()
    .update(storeSources)
    .set({ lookedAt: new Date(now) })
    .where(lt(storeSources.lookedAt, new Date(now - LOOK_MS)))
    .returning();
  for (const source of due) {
    const file = await withAccess(source.connectionId, (access) => readFile(access, source.fileId));
    await noticeVersion(source, file.versions.at(-1)!.number);
  }
}

async function ownerOf(source: SourceRow): Promise<string> {
  const [row] = await db()
    .select({ userId: storeConnections.userId })
    .from(storeConnections)
    .where(eq(storeConnections.id, source.connectionId));
  return row!.userId;
}

async function person(userId: string): Promise<Actor | null> {
  const [row] = await db().select().from(user).where(eq(user.id, userId));
  return row ? { kind: 'user', id: row.id, name: row.name, email: row.email } : null;
}
