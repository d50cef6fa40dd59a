import { and, asc, eq, isNull, max, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { ViewpointCard } from '@/core/project/viewpoint-card';
import { readView, type ViewState } from '@/core/view/view-state';
import { db } from '@/db/database';
import { viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { notFound } from '../problems';

/** The running order: all viewpoints of a project that are not deleted, in order. */
export async function listViewpoints(actor: Actor, projectId: string): Promise<ViewpointCard[]> {
  await authorise(actor, projectId, 'project.read');
  const rows = await db()
    .select({
      id: viewpoints.id,
      name: viewpoints.name,
      state: viewpoints.state,
      hasPicture: sql<boolean>`${viewpoints.picture} is not null`, // the bytes stay where they are
    })
    .from(viewpoints)
    .where(and(eq(viewpoints.projectId, projectId), isNull(viewpoints.deletedAt)))
    .orderBy(asc(viewpoints.position), asc(viewpoints.id));
  return rows.map((row) => ({ ...row, state: readView(row.state) }));
}

/**
 * Adds a card at the end of the running order. Returns its id.
 *
 * @param requestKey what the request is known by: the same one again makes no second card
 */
export async function saveViewpoint(
  actor: Actor,
  projectId: string,
  name: string,
  state: ViewState,
  picture: Buffer | null,
  requestKey: string | null = null,
): Promise<string> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const [last] = await db()
    .select({ position: max(viewpoints.position) })
    .from(viewpoints)
    .where(eq(viewpoints.projectId, projectId));
  const id = uuidv7();
  const position = (last?.position ?? 0) + 1;
  const [made] = await db()
    .insert(viewpoints)
    .values({ id, projectId, name, state, picture, position, authorName: actor.name, requestKey })
    .onConflictDoNothing({ target: [viewpoints.projectId, viewpoints.requestKey] })
    .returning({ id: viewpoints.id });
  if (made) await tellProject(projectId, 'viewpoints-changed');
  return made?.id ?? (await madeBefore(projectId, requestKey!));
}

async function madeBefore(projectId: string, requestKey: string): Promise<string> {
  const [row] = await db()
    .select({ id: viewpoints.id })
    .from(viewpoints)
    .where(and(eq(viewpoints.projectId, projectId), eq(viewpoints.requestKey, requestKey)));
  return row!.id;
}

export async function renameViewpoint(actor: Actor, projectId: string, id: string, name: string): Promise<void> {
  await change(actor, projectId, id, { name });
}

/** Deleting keeps the viewpoint, so that it can be brought back and minutes stay whole. */
export async function setViewpointDeleted(
  actor: Actor,
  projectId: string,
  id: string,
  deleted: boolean,
): Promise<void> {
  await change(actor, projectId, id, { deletedAt: deleted ? new Date() : null });
}

/** Moves a card so that it stands at `index` (from 0) of the running order. */
export async function moveViewpoint(actor: Actor, projectId: string, id: string, index: number): Promise<void> {
  await authorise(actor, projectId, 'viewpoint.edit');
  await db().transaction(async (tx) => {
    const rows = await tx
      .select({ id: viewpoints.id })
      .from(viewpoints)
      .where(and(eq(viewpoints.projectId, projectId), isNull(viewpoints.deletedAt)))
      .orderBy(asc(viewpoints.position), asc(viewpoints.id))
      .for('update');
    const others = rows.filter((row) => row.id !== id);
    if (others.length === rows.length) throw notFound('The viewpoint');
    others.splice(Math.min(index, others.length), 0, { id });
    for (const [position, row] of others.entries())
      await tx
        .update(viewpoints)
        .set({ position: position + 1 })
        .where(eq(viewpoints.id, row.id));
  });
  await tellProject(projectId, 'viewpoints-changed');
}

async function change(
  actor: Actor,
  projectId: string,
  id: string,
  set: Partial<typeof viewpoints.$inferInsert>,
): Promise<void> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const changed = await db()
    .update(viewpoints)
    .set(set)
    .where(and(eq(viewpoints.id, id), eq(viewpoints.projectId, projectId)))
    .returning({ id: viewpoints.id });
  if (changed.length === 0) throw notFound('The viewpoint');
  await tellProject(projectId, 'viewpoints-changed');
}

export async function viewpointPicture(actor: Actor, projectId: string, id: string): Promise<Buffer> {
  await authorise(actor, projectId, 'project.read');
  const [row] = await db()
    .select({ picture: viewpoints.picture })
    .from(viewpoints)
    .where(and(eq(viewpoints.id, id), eq(viewpoints.projectId, projectId)));
  if (!row?.picture) throw notFound('The picture');
  return row.picture;
}
