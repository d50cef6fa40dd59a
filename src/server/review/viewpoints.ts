import { and, asc, eq, isNull, max, or, sql, type SQL } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { readParts, type ViewpointCard, type ViewpointDetails } from '@/core/project/viewpoint-card';
import { readView, type ViewState } from '@/core/view/view-state';
import { db, type Transaction } from '@/db/database';
import { viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { forbidden, notFound } from '../problems';
import { holdProject } from '../projects/hold-project';
import { checkGuestRoom, sizeOfView } from './guest-room';

/** The running order: all viewpoints of a project that are not deleted and that this person may see, in order. */
export async function listViewpoints(actor: Actor, projectId: string): Promise<ViewpointCard[]> {
  await authorise(actor, projectId, 'project.read');
  const { picture: _, ...columns } = cardColumns;
  const rows = await db()
    .select({
      ...columns,
      hasPicture: sql<boolean>`${viewpoints.picture} is not null`, // the bytes stay where they are
    })
    .from(viewpoints)
    .where(and(eq(viewpoints.projectId, projectId), isNull(viewpoints.deletedAt), seenBy(actor)))
    .orderBy(asc(viewpoints.position), asc(viewpoints.id));
  return rows.map(({ pictureAt, ...row }) => ({
    ...row,
    state: readView(row.state),
    parts: readParts(row.parts),
    pictured: pictureAt.toISOString(),
  }));
}

const cardColumns = {
  id: viewpoints.id,
  name: viewpoints.name,
  state: viewpoints.state,
  picture: viewpoints.picture,
  group: viewpoints.group,
  isShared: viewpoints.isShared,
  question: viewpoints.question,
  minutes: viewpoints.minutes,
  parts: viewpoints.parts,
  pictureAt: viewpoints.pictureAt,
};

/** What is not shared is its author's own. */
function seenBy(actor: Actor): SQL | undefined {
  return or(eq(viewpoints.isShared, true), eq(viewpoints.authorId, actor.id));
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
  details: Partial<Omit<ViewpointDetails, 'name'>> = {},
): Promise<string> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const [made] = await db().transaction(async (tx) => {
    await holdProject(tx, projectId);
    await checkGuestRoom(tx, actor, (picture?.length ?? 0) + sizeOfView(state));
    const [last] = await tx
      .select({ position: max(viewpoints.position) })
      .from(viewpoints)
      .where(eq(viewpoints.projectId, projectId));
    return tx
      .insert(viewpoints)
      .values({
        id: uuidv7(),
        projectId,
        name,
        state,
        picture,
        position: (last?.position ?? 0) + 1,
        authorName: actor.name,
        authorId: actor.id,
        requestKey,
        ...details,
      })
      .onConflictDoNothing({ target: [viewpoints.projectId, viewpoints.requestKey] })
      .returning({ id: viewpoints.id });
  });
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

/** Adds the same viewpoint once more, right behind it. Returns the id of the copy. */
export async function duplicateViewpoint(
  actor: Actor,
  projectId: string,
  id: string,
  requestKey: string | null = null,
): Promise<string> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const [row] = await db()
    .select()
    .from(viewpoints)
    .where(
      and(eq(viewpoints.id, id), eq(viewpoints.projectId, projectId), isNull(viewpoints.deletedAt), seenBy(actor)),
    );
  if (!row) throw notFound('The viewpoint');
  const { group, isShared, question, minutes, parts } = row;
  const details = { group, isShared, question, minutes, parts: readParts(parts) };
  const name = `${row.name.slice(0, 113)}, copy`;
  const copy = await saveViewpoint(actor, projectId, name, readView(row.state), row.picture, requestKey, details);
  const cards = await listViewpoints(actor, projectId);
  await moveViewpoint(actor, projectId, copy, cards.findIndex((card) => card.id === id) + 1);
  return copy;
}

/** Changes what is known of a viewpoint, or what it shows. Whoever does not share it stays the only one who sees it. */
export async function changeViewpoint(
  actor: Actor,
  projectId: string,
  id: string,
  change: Partial<ViewpointDetails> & { state?: ViewState; picture?: Buffer },
): Promise<void> {
  await set(actor, projectId, id, { ...change, ...(change.picture && { pictureAt: new Date() }) });
}

/** Deleting keeps the viewpoint, so that it can be brought back and minutes stay whole. */
export async function setViewpointDeleted(
  actor: Actor,
  projectId: string,
  id: string,
  deleted: boolean,
): Promise<void> {
  await set(actor, projectId, id, { deletedAt: deleted ? new Date() : null });
}

/** Moves a card so that it stands at `index` (from 0) of the running order as this person sees it. */
export async function moveViewpoint(actor: Actor, projectId: string, id: string, index: number): Promise<void> {
  await authorise(actor, projectId, 'viewpoint.edit');
  await db().transaction(async (tx) => {
    await holdProject(tx, projectId);
    const rows = await tx
      .select({ id: viewpoints.id, isSeen: sql<boolean>`${seenBy(actor)}` })
      .from(viewpoints)
      .where(and(eq(viewpoints.projectId, projectId), isNull(viewpoints.deletedAt)))
      .orderBy(asc(viewpoints.position), asc(viewpoints.id));
    const seen = rows.filter((row) => row.isSeen);
    const others = seen.filter((row) => row.id !== id);
    if (others.length === seen.length) throw notFound('The viewpoint');
    others.splice(Math.min(index, others.length), 0, { id, isSeen: true });
    // What this person does not see keeps its place.
    const order = rows.map((row) => (row.isSeen ? others.shift()! : row));
    for (const [position, row] of order.entries())
      await tx
        .update(viewpoints)
        .set({ position: position + 1 })
        .where(eq(viewpoints.id, row.id));
  });
  await tellProject(projectId, 'viewpoints-changed');
}

async function set(
  actor: Actor,
  projectId: string,
  id: string,
  values: Partial<typeof viewpoints.$inferInsert>,
): Promise<void> {
  await authorise(actor, projectId, 'viewpoint.edit');
  const changed = await db().transaction(async (tx) => {
    await checkGuestRoom(tx, actor, (values.picture?.length ?? 0) + sizeOfView(values.state));
    if (values.isShared === false && actor.kind === 'guest') await requireAuthor(tx, actor, id);
    return tx
      .update(viewpoints)
      .set({ ...values, ...(values.isShared === false && { authorId: actor.id }) })
      .where(and(eq(viewpoints.id, id), eq(viewpoints.projectId, projectId), seenBy(actor)))
      .returning({ id: viewpoints.id });
  });
  if (changed.length === 0) throw notFound('The viewpoint');
  await tellProject(projectId, 'viewpoints-changed');
}

/** A guest may not take from others what they see. @throws Problem 403 for what somebody else has made */
async function requireAuthor(tx: Transaction, actor: Actor, id: string): Promise<void> {
  const [row] = await tx.select({ authorId: viewpoints.authorId }).from(viewpoints).where(eq(viewpoints.id, id));
  if (row && row.authorId !== actor.id) throw forbidden();
}

export async function viewpointPicture(actor: Actor, projectId: string, id: string): Promise<Buffer> {
  await authorise(actor, projectId, 'project.read');
  const [row] = await db()
    .select({ picture: viewpoints.picture })
    .from(viewpoints)
    .where(and(eq(viewpoints.id, id), eq(viewpoints.projectId, projectId), seenBy(actor)));
  if (!row?.picture) throw notFound('The picture');
  return row.picture;
}
