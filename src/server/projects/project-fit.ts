import { and, desc, eq, sql } from 'drizzle-orm';
import { projectFit, type ProjectFit } from '@/core/examination/project-fit';
import { translateBox, type Box3 } from '@/core/math/box3';
import type { Vec3 } from '@/core/math/mat4';
import { placeBox } from '@/core/placement/placement';
import { db } from '@/db/database';
import { revisions } from '@/db/schema';
import { placements } from './placing';
import { stands } from './standing-revisions';

/**
 * How the models of a project go together, by their ids.
 *
 * @param instead a revision of a model that is looked at in place of its newest
 */
export async function projectFits(
  projectId: string,
  instead?: { modelId: string; extent: Box3; offset: Vec3 },
): Promise<Map<string, ProjectFit>> {
  const rows = await db()
    .selectDistinctOn([revisions.modelId], {
      modelId: revisions.modelId,
      extent: sql<Box3 | null>`nullif(${revisions.report}->'extent', 'null'::jsonb)`,
      offset: sql<Vec3>`${revisions.report}->'offset'`,
    })
    .from(revisions)
    .where(and(eq(revisions.projectId, projectId), stands()))
    .orderBy(revisions.modelId, desc(revisions.number));
  const present = rows.filter(({ modelId }) => modelId !== instead?.modelId);
  const placementOf = await placements(projectId);
  const boxes = [...present, ...(instead ? [instead] : [])].flatMap(({ modelId, extent, offset }) =>
    extent ? [{ modelId, box: placeBox(placementOf(modelId), translateBox(extent, offset)) }] : [],
  );
  return new Map(
    boxes.flatMap(({ modelId, box }) => {
      const others = boxes.filter((other) => other.modelId !== modelId).map((other) => other.box);
      const fit = projectFit(box, others);
      return fit ? [[modelId, fit] as const] : [];
    }),
  );
}
