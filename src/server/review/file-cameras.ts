import { and, eq, isNull } from 'drizzle-orm';
import { placePoint } from '@/core/placement/placement';
import { INITIAL_VIEW } from '@/core/view/view-state';
import { db } from '@/db/database';
import { models, viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { placements } from '../projects/placing';
import { Problem } from '../problems';
import { findRevision } from '../publishing/publishing';
import { saveViewpoint } from './viewpoints';

/**
 * Puts the cameras that came with a revision's file at the end of the running order, each named after its model and
 * itself; those that are there already are left out.
 *
 * @returns how many were added
 * @throws Problem 409 if the file has none, or all are there
 */
export async function addFileCameras(actor: Actor, revisionId: string): Promise<number> {
  const revision = await findRevision(revisionId);
  const { projectId, modelId, report } = revision;
  await authorise(actor, projectId, 'viewpoint.edit');
  if (!report || report.cameras.length === 0)
    throw new Problem(409, 'No cameras came with this file. Nothing was changed.');
  const [model] = await db().select().from(models).where(eq(models.id, modelId));
  const present = await db()
    .select({ name: viewpoints.name })
    .from(viewpoints)
    .where(and(eq(viewpoints.projectId, projectId), isNull(viewpoints.deletedAt)));
  const names = new Set(present.map(({ name }) => name));
  const placement = (await placements(projectId))(modelId);
  let added = 0;
  for (const { name, position, target, fov } of report.cameras) {
    const called = `${model!.name}: ${name}`.slice(0, 120);
    if (names.has(called)) continue;
    names.add(called);
    const camera = { position: placePoint(placement, position), target: placePoint(placement, target), fov };
    await saveViewpoint(actor, projectId, called, { ...INITIAL_VIEW, camera }, null, null, {
      group: `From ${model!.name}`.slice(0, 60),
    });
    added++;
  }
  if (added === 0) throw new Problem(409, 'All cameras of this file are in the running order already.');
  return added;
}
