import { and, desc, eq, inArray, or, sql } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import type { CommentAnchor } from '@/core/project/comment';
import type { Note } from '@/core/project/note';
import { revisionCode } from '@/core/revision-code';
import { readView, type ViewState } from '@/core/view/view-state';
import { db } from '@/db/database';
import { members, models, notes, revisions, user } from '@/db/schema';
import { authorise, requireUser, type Actor } from '../access/access';
import { tellPerson } from '../broadcast';
import { notFound, Problem } from '../problems';
import { stands } from '../projects/standing-revisions';
import { say } from './comments';

const MOST_NOTES = 2000;

export interface NewNote {
  text: string;
  anchor?: CommentAnchor;
  elementName?: string;
  view?: ViewState;
  picture?: Buffer;
}

/** Notes something for oneself. Nobody else sees it. Returns its id. */
export async function takeNote(
  actor: Actor,
  projectId: string,
  note: NewNote,
  requestKey: string | null = null,
): Promise<string> {
  requireUser(actor);
  await authorise(actor, projectId, 'comment.write');
  const revisionsNow = await standing(projectId);
  return db().transaction(async (tx) => {
    if (requestKey !== null) {
      const [before] = await tx.select({ id: notes.id }).from(notes).where(and(eq(notes.projectId, projectId), eq(notes.requestKey, requestKey))); // prettier-ignore
      if (before) return before.id;
    }
    const [held] = await tx
      .select({ n: sql<number>`count(*)::int` })
      .from(notes)
      .where(and(eq(notes.projectId, projectId), eq(notes.ownerId, actor.id)));
    if (held!.n >= MOST_NOTES) throw new Problem(409, `You have ${MOST_NOTES} notes here. Delete some first.`);
    const id = uuidv7();
    await tx.insert(notes).values({ ...note, id, projectId, ownerId: actor.id, revisions: revisionsNow, requestKey });
    return id;
  });
}

/** One's own notes, and those that others have passed to one; newest first. */
export async function listNotes(actor: Actor, projectId: string): Promise<Note[]> {
  requireUser(actor);
  await authorise(actor, projectId, 'comment.read');
  const [rows, now, people] = await Promise.all([
    db()
      .select({
        id: notes.id,
        ownerId: notes.ownerId,
        owner: user.name,
        text: notes.text,
        anchor: notes.anchor,
        elementName: notes.elementName,
        view: notes.view,
        hasPicture: sql<boolean>`${notes.picture} is not null`,
        passedTo: notes.passedTo,
        revisions: notes.revisions,
        commentId: notes.commentId,
        createdAt: notes.createdAt,
      })
      .from(notes)
      .innerJoin(user, eq(user.id, notes.ownerId))
      .where(and(eq(notes.projectId, projectId), or(eq(notes.ownerId, actor.id), sql`${notes.passedTo} ? ${actor.id}`)))
      .orderBy(desc(notes.createdAt)),
    standing(projectId),
    db()
      .select({ id: user.id, name: user.name })
      .from(members)
      .innerJoin(user, eq(user.id, members.userId))
      .where(eq(members.projectId, projectId)),
  ]);
  const named = await codesOf(rows.flatMap((row) => Object.values(row.revisions)));
  return rows.map(({ ownerId, owner, revisions: then, passedTo, view, createdAt, ...row }) => {
    const isOwn = ownerId === actor.id;
    const model = row.anchor?.element?.model;
    const about = model ? then[model] : undefined;
    return {
      ...row,
      view: view === null ? null : readView(view),
      isOwn,
      owner,
      passedTo: isOwn ? people.filter(({ id }) => passedTo.includes(id)) : [],
      revision: about ? (named.get(about) ?? null) : null,
      // Of what stands nothing is older: a note that names no element goes with all models.
      isOlder: model ? about !== now[model] : Object.entries(then).some(([id, one]) => now[id] !== one),
      createdAt: createdAt.toISOString(),
    };
  });
}

export async function notePicture(actor: Actor, projectId: string, id: string): Promise<Buffer> {
  requireUser(actor);
  await authorise(actor, projectId, 'comment.read');
  const [row] = await db()
    .select({ picture: notes.picture })
    .from(notes)
    .where(
      and(
        eq(notes.id, id),
        eq(notes.projectId, projectId),
        or(eq(notes.ownerId, actor.id), sql`${notes.passedTo} ? ${actor.id}`),
      ),
    );
  if (!row?.picture) throw notFound('The picture');
  return row.picture;
}

export interface NoteChange {
  text?: string;
  /** Accounts of colleagues who see it; those who saw it before and are not named do not any more. */
  passedTo?: string[];
  /** It holds for what stands now, too. */
  takenAlong?: true;
}

/** Changes a note of one's own. @throws Problem 400 for colleagues who are not in the project, 404 */
export async function changeNote(actor: Actor, projectId: string, id: string, change: NoteChange): Promise<void> {
  requireUser(actor);
  await authorise(actor, projectId, 'comment.write');
  const { text, passedTo, takenAlong } = change;
  if (passedTo?.length) {
    const known = await db()
      .select({ id: members.userId })
      .from(members)
      .where(and(eq(members.projectId, projectId), inArray(members.userId, passedTo)));
    if (known.length < new Set(passedTo).size) throw new Problem(400, 'One of them is not a member of this project.');
  }
  const changed = await db()
    .update(notes)
    .set({
      ...(text !== undefined && { text }),
      ...(passedTo && { passedTo: [...new Set(passedTo)] }),
      ...(takenAlong && { revisions: await standing(projectId) }),
    })
    .where(and(eq(notes.id, id), eq(notes.projectId, projectId), eq(notes.ownerId, actor.id)))
    .returning({ id: notes.id });
  if (changed.length === 0) throw notFound('The note');
  for (const person of passedTo ?? []) await tellPerson(person);
}

export async function deleteNote(actor: Actor, projectId: string, id: string): Promise<void> {
  requireUser(actor);
  await authorise(actor, projectId, 'comment.write');
  const gone = await db()
    .delete(notes)
    .where(and(eq(notes.id, id), eq(notes.projectId, projectId), eq(notes.ownerId, actor.id)))
    .returning({ id: notes.id });
  if (gone.length === 0) throw notFound('The note');
}

/** Makes a comment of a note of one's own: now everybody sees it. Doing it twice makes one. Returns the comment's id. */
export async function shareNote(actor: Actor, projectId: string, id: string): Promise<string> {
  requireUser(actor);
  await authorise(actor, projectId, 'comment.write');
  const [row] = await db()
    .select()
    .from(notes)
    .where(and(eq(notes.id, id), eq(notes.projectId, projectId), eq(notes.ownerId, actor.id)));
  if (!row) throw notFound('The note');
  const { text, anchor, elementName, view, picture } = row;
  const commentId = await say(
    actor,
    projectId,
    {
      text,
      elementName,
      ...(anchor && { anchor }),
      ...(view !== null && { view: readView(view) }),
      ...(picture && { picture }),
    },
    `note:${id}`,
  );
  await db().update(notes).set({ commentId }).where(eq(notes.id, id));
  return commentId;
}

/** By model the revision that stands. */
async function standing(projectId: string): Promise<Record<string, string>> {
  const rows = await db()
    .selectDistinctOn([revisions.modelId], { modelId: revisions.modelId, id: revisions.id })
    .from(revisions)
    .where(and(eq(revisions.projectId, projectId), stands()))
    .orderBy(revisions.modelId, desc(revisions.number));
  return Object.fromEntries(rows.map(({ modelId, id }) => [modelId, id]));
}

/** How revisions are called. */
async function codesOf(ids: readonly string[]): Promise<Map<string, string>> {
  if (ids.length === 0) return new Map();
  const rows = await db()
    .select({ id: revisions.id, number: revisions.number, model: models.name })
    .from(revisions)
    .innerJoin(models, eq(models.id, revisions.modelId))
    .where(inArray(revisions.id, [...new Set(ids)]));
  return new Map(rows.map(({ id, number, model }) => [id, `${model} ${revisionCode(number ?? 0)}`]));
}
