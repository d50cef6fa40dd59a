import { and, asc, desc, eq, sql } from 'drizzle-orm';
import {
  AS_IN_FILE,
  isOnMap,
  placeByGeoreference,
  type Placement,
  type PlacementChoice,
} from '@/core/placement/placement';
import type { Georeference } from '@/core/project/publish-report';
import { db } from '@/db/database';
import { models, revisions } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { notFound, Problem } from '../problems';

/** Decides how a model finds its place in the project. Its file is never touched. */
export async function placeModel(
  actor: Actor,
  projectId: string,
  modelId: string,
  choice: PlacementChoice,
): Promise<void> {
  await authorise(actor, projectId, 'model.manage');
  const [model] = await db()
    .select()
    .from(models)
    .where(and(eq(models.id, modelId), eq(models.projectId, projectId)));
  if (!model) throw notFound('The model');
  if (choice.by === 'georeference' && !(await georeferencePlacements(projectId)).has(modelId))
    throw new Problem(
      409,
      'This model and the first one of the project do not both say where they are on one and the same map. Place it by hand; nothing was changed.',
    );
  await db().update(models).set({ placement: choice }).where(eq(models.id, modelId));
  await tellProject(projectId, 'models-changed');
}

/** Where each model of a project stands, by its id. */
export async function placements(projectId: string): Promise<(modelId: string) => Placement> {
  const rows = await db()
    .select({ id: models.id, placement: models.placement })
    .from(models)
    .where(eq(models.projectId, projectId));
  const byMap = rows.some(({ placement }) => placement.by === 'georeference')
    ? await georeferencePlacements(projectId)
    : new Map<string, Placement>();
  const chosen = new Map(rows.map(({ id, placement }) => [id, placement]));
  return (modelId) => {
    const choice = chosen.get(modelId);
    if (choice?.by === 'hand') return { turn: choice.turn, offset: choice.offset };
    if (choice?.by === 'georeference') return byMap.get(modelId) ?? AS_IN_FILE;
    return AS_IN_FILE;
  };
}

/** Where the map puts models, beside the first one of the project that is on it. */
export async function georeferencePlacements(projectId: string): Promise<Map<string, Placement>> {
  const rows = await db()
    .selectDistinctOn([models.createdAt, models.id], {
      id: models.id,
      georeference: sql<Georeference | null>`nullif(${revisions.report}->'georeference', 'null'::jsonb)`,
    })
    .from(models)
    .innerJoin(revisions, eq(revisions.modelId, models.id))
    .where(and(eq(models.projectId, projectId), eq(revisions.state, 'published')))
    .orderBy(asc(models.createdAt), asc(models.id), desc(revisions.number));
  const home = rows.find(({ georeference }) => isOnMap(georeference))?.georeference ?? null;
  const found = new Map<string, Placement>();
  for (const { id, georeference } of rows) {
    const placement = placeByGeoreference(home, georeference);
    if (placement) found.set(id, placement);
  }
  return found;
}
