import { randomBytes } from 'node:crypto';
import { and, asc, eq } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { StoreSource, StoreSourceDraft } from '@/core/project/model-store';
import { revisionCode } from '@/core/revision-code';
import { db } from '@/db/database';
import { models, revisions, storeConnections, storeSources, user } from '@/db/schema';
import { authorise, requirePerson, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { config } from '../config';
import { notFound, Problem } from '../problems';
import { enqueueTaking } from '../publishing/queue';
import { seal } from '../access/seal';
import { connectionOf, withAccess } from './connections';
import { readFile, storeSettings, subscribe, unsubscribe } from './store-client';

export type SourceRow = typeof storeSources.$inferSelect;
export const SECRET = 'store notices';

/** The files of the store that a project takes models from. */
export async function listSources(actor: Actor, projectId: string): Promise<StoreSource[]> {
  await authorise(actor, projectId, 'model.publish');
  const rows = await db()
    .select({ source: storeSources, model: models.name, revision: revisions, owner: user })
    .from(storeSources)
    .innerJoin(storeConnections, eq(storeConnections.id, storeSources.connectionId))
    .innerJoin(user, eq(user.id, storeConnections.userId))
    .leftJoin(models, eq(models.id, storeSources.modelId))
    .leftJoin(revisions, eq(revisions.id, storeSources.revisionId))
    .where(eq(storeSources.projectId, projectId))
    .orderBy(asc(storeSources.createdAt));
  return rows.map(({ source, model, revision, owner }) => ({
    id: source.id,
    fileId: source.fileId,
    fileName: source.fileName,
    path: source.path,
    owner: owner.name,
    yours: owner.id === actor.id,
    modelId: source.modelId,
    modelName: model ?? source.modelName,
    discipline: source.discipline,
    follow: source.follow,
    newest: source.newestVersion,
    taken:
      source.takenVersion && revision
        ? {
            version: source.takenVersion,
            revisionId: revision.id,
            code: revision.number ? revisionCode(revision.number) : null,
            state: revision.state,
            at: source.takenAt!.toISOString(),
          }
        : null,
    trouble: source.trouble,
  }));
}

/**
 * Chooses a file of the actor's store as a source of revisions, and takes its newest version.
 *
 * @throws Problem 409 if the project has it already or the actor is not connected
 */
export async function addSource(actor: Actor, projectId: string, draft: StoreSourceDraft): Promise<string> {
  requirePerson(actor);
  await authorise(actor, projectId, 'model.manage');
  const connection = await connectionOf(actor.id);
  if (!connection) throw new Problem(409, `You are not connected to ${storeSettings().name}. Connect first.`);
  const [present] = await db()
    .select({ id: storeSources.id })
    .from(storeSources)
    .where(and(eq(storeSources.projectId, projectId), eq(storeSources.fileId, draft.fileId)));
  if (present) throw new Problem(409, 'This file is chosen already. Nothing was changed.');
  if (draft.modelId) {
    const [model] = await db()
      .select({ id: models.id })
      .from(models)
      .where(and(eq(models.id, draft.modelId), eq(models.projectId, projectId)));
    if (!model) throw notFound('The model');
  }
  const id = uuidv7();
  const secret = randomBytes(32).toString('base64url');
  const { file, subscription } = await withAccess(connection.id, async (access) => ({
    file: await readFile(access, draft.fileId),
    subscription: await subscribe(access, draft.fileId, noticeAddress(id), secret),
  }));
  await db()
    .insert(storeSources)
    .values({
      id,
      projectId,
      connectionId: connection.id,
      fileId: file.id,
      fileName: file.name,
      path: file.path.slice(1).map(({ name }) => name),
      modelId: draft.modelId ?? null,
      modelName: draft.modelName,
      discipline: draft.discipline,
      follow: draft.follow,
      subscription,
      secret: seal(SECRET, secret),
      newestVersion: file.versions.at(-1)!.number,
    });
  await enqueueTaking(id, actor.id);
  await tellProject(projectId, 'models-changed');
  return id;
}

function noticeAddress(sourceId: string): string {
  return `${config().publicUrl}/api/model-store/notices/${sourceId}`;
}

/** Takes new versions by itself from now on, or only when asked. */
export async function followSource(actor: Actor, projectId: string, sourceId: string, follow: boolean): Promise<void> {
  const source = await findSource(actor, projectId, sourceId);
  await db().update(storeSources).set({ follow }).where(eq(storeSources.id, sourceId));
  if (follow && source.newestVersion > (source.takenVersion ?? 0)) await enqueueTaking(sourceId, actor.id);
  await tellProject(projectId, 'models-changed');
}

/** Takes the newest version now. */
export async function takeSource(actor: Actor, projectId: string, sourceId: string): Promise<void> {
  await findSource(actor, projectId, sourceId);
  await db().update(storeSources).set({ trouble: null }).where(eq(storeSources.id, sourceId));
  await enqueueTaking(sourceId, actor.id);
  await tellProject(projectId, 'models-changed');
}

/** Takes nothing from this file any more. The model and its revisions stay. */
export async function removeSource(actor: Actor, projectId: string, sourceId: string): Promise<void> {
  await unsubscribeFrom([await findSource(actor, projectId, sourceId)]);
  await db().delete(storeSources).where(eq(storeSources.id, sourceId));
  await tellProject(projectId, 'models-changed');
}

/** Ends the notices to all sources of a connection, before it goes; they go with it. */
export async function releaseSources(connectionId: string): Promise<void> {
  const sources = await db().select().from(storeSources).where(eq(storeSources.connectionId, connectionId));
  await unsubscribeFrom(sources);
  await db().delete(storeSources).where(eq(storeSources.connectionId, connectionId));
  for (const projectId of new Set(sources.map((source) => source.projectId)))
    await tellProject(projectId, 'models-changed');
}

/** A notice to a source that is gone is answered so that the store stops; so its being away now harms nothing. */
async function unsubscribeFrom(sources: SourceRow[]): Promise<void> {
  for (const { connectionId, subscription } of sources) {
    if (!subscription) continue;
    await withAccess(connectionId, (access) => unsubscribe(access, subscription)).catch((error: Error) =>
      process.stderr.write(`subscription at the model store not ended: ${error.message}\n`),
    );
  }
}

async function findSource(actor: Actor, projectId: string, sourceId: string): Promise<SourceRow> {
  requirePerson(actor);
  await authorise(actor, projectId, 'model.manage');
  const [source] = await db()
    .select()
    .from(storeSources)
    .where(and(eq(storeSources.id, sourceId), eq(storeSources.projectId, projectId)));
  if (!source) throw notFound('The chosen file');
  return source;
}
