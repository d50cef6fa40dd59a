import { eq } from 'drizzle-orm';
import { siteOf } from '@/core/sun/find-site';
import { siteSchema } from '@/core/sun/site-schema';
import type { ProjectSite, SunSite } from '@/core/sun/sun-site';
import { db } from '@/db/database';
import { projects } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { mapGrid } from './map-grid';
import { stageModels } from './projects';

/** Where a project stands under the sun: as somebody has set it, or as the first of its models says that knows. */
export async function readSite(actor: Actor, projectId: string): Promise<ProjectSite> {
  await authorise(actor, projectId, 'project.read');
  const [row] = await db().select({ site: projects.site }).from(projects).where(eq(projects.id, projectId));
  const { error, value } = siteSchema.validate({ site: row?.site ?? null });
  if (!error && value.site) return { site: value.site, by: 'hand' };
  for (const { georeference, placement } of await stageModels(actor, projectId)) {
    const site = siteOf(georeference, placement, await mapGrid(georeference?.crs));
    if (site) return { site, by: 'file' };
  }
  return { site: null, by: null };
}

/** Returns what holds then. @param site null for what the models say */
export async function setSite(actor: Actor, projectId: string, site: SunSite | null): Promise<ProjectSite> {
  await authorise(actor, projectId, 'viewpoint.edit');
  await db().update(projects).set({ site }).where(eq(projects.id, projectId));
  await tellProject(projectId, 'models-changed');
  return readSite(actor, projectId);
}
