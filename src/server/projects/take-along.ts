import { readFile } from 'node:fs/promises';
import { and, desc, eq } from 'drizzle-orm';
import { db } from '@/db/database';
import { revisions } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { notFound } from '../problems';
import { sourceKey, storage } from '../storage/storage';
import { sourceOf, stands } from './standing-revisions';

/**
 * The file that the newest revision of a model was published from.
 *
 * @throws Problem 404 where nothing of it is published
 */
export async function newestSource(
  actor: Actor,
  projectId: string,
  modelId: string,
): Promise<{ fileName: string; bytes: Buffer }> {
  await authorise(actor, projectId, 'model.take');
  const [row] = await db()
    .select({ contentId: revisions.contentId, fileName: revisions.fileName })
    .from(revisions)
    .where(and(eq(revisions.projectId, projectId), eq(revisions.modelId, modelId), stands()))
    .orderBy(desc(revisions.number))
    .limit(1);
  if (!row?.contentId) throw notFound('The model');
  const bytes = await (await storage()).withFile(sourceKey(await sourceOf(row.contentId)), (path) => readFile(path));
  return { fileName: row.fileName, bytes };
}
