import { and, asc, count, eq, inArray, isNull } from 'drizzle-orm';
import sharp from 'sharp';
import { v7 as uuidv7 } from 'uuid';
import { groupBy } from '@/core/group-by';
import { MOST_ATTACHMENTS, type Attachment } from '@/core/project/comment';
import { db } from '@/db/database';
import { attachments, comments } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { forbidden, notFound, Problem } from '../problems';
import { checkGuestRoom } from './guest-room';

/** Pictures are kept no finer than this. */
const MAX_SIDE = 2400;
const PICTURES = new Set(['jpeg', 'png', 'webp', 'gif', 'heif', 'tiff']);

const COLUMNS = {
  id: attachments.id,
  name: attachments.name,
  type: attachments.type,
  size: attachments.size,
  width: attachments.width,
  height: attachments.height,
};

/**
 * Adds a picture or a file to what this person has said. Pictures are written anew: upright, without what a camera wrote
 * down of the place, no finer than is seen; other files are kept as they are.
 *
 * @throws Problem 403 for what somebody else has said, 404, 409 where there are too many
 */
export async function attach(
  actor: Actor,
  projectId: string,
  commentId: string,
  file: { name: string; content: Buffer },
): Promise<Attachment> {
  await authorise(actor, projectId, 'comment.write');
  const kept = await asKept(file.content);
  const added = await db().transaction(async (tx) => {
    const [row] = await tx
      .select({ authorId: comments.authorId })
      .from(comments)
      .where(and(eq(comments.id, commentId), eq(comments.projectId, projectId), isNull(comments.deletedAt)))
      .for('update');
    if (!row) throw notFound('The comment');
    if (row.authorId !== actor.id) throw forbidden();
    const [there] = await tx.select({ n: count() }).from(attachments).where(eq(attachments.commentId, commentId));
    if ((there?.n ?? 0) >= MOST_ATTACHMENTS)
      throw new Problem(409, `A comment holds ${MOST_ATTACHMENTS} pictures and files. Say more in an answer.`);
    await checkGuestRoom(tx, actor, kept.size);
    const [stored] = await tx
      .insert(attachments)
      .values({ id: uuidv7(), projectId, commentId, name: file.name, byId: actor.id, ...kept })
      .returning(COLUMNS);
    return stored!;
  });
  await tellProject(projectId, 'comments-changed');
  return added;
}

/** Takes away a file; its author and those who manage what was said may do it. */
export async function detach(actor: Actor, projectId: string, commentId: string, id: string): Promise<void> {
  await authorise(actor, projectId, 'comment.write');
  const gone = await db()
    .delete(attachments)
    .where(
      and(
        eq(attachments.id, id),
        eq(attachments.commentId, commentId),
        eq(attachments.projectId, projectId),
        eq(attachments.byId, actor.id),
      ),
    )
    .returning({ id: attachments.id });
  if (gone.length === 0) throw notFound('The file');
  await tellProject(projectId, 'comments-changed');
}

/** A file with its content. */
export async function readAttachment(actor: Actor, projectId: string, commentId: string, id: string) {
  await authorise(actor, projectId, 'comment.read');
  const [row] = await db()
    .select()
    .from(attachments)
    .where(and(eq(attachments.id, id), eq(attachments.commentId, commentId), eq(attachments.projectId, projectId)));
  if (!row) throw notFound('The file');
  return row;
}

/** What goes with each comment of a project, without contents. */
export async function attachmentsOf(projectId: string): Promise<Map<string, Attachment[]>> {
  const rows = await db()
    .select({ ...COLUMNS, commentId: attachments.commentId })
    .from(attachments)
    .where(eq(attachments.projectId, projectId))
    .orderBy(asc(attachments.id));
  const groups = groupBy(rows, ({ commentId }) => commentId);
  return new Map([...groups].map(([id, own]) => [id, own.map(({ commentId: _, ...file }) => file)]));
}

/** What goes with some comments, with contents, by comment. */
export async function attachedContents(
  commentIds: readonly string[],
): Promise<Map<string, (typeof attachments.$inferSelect)[]>> {
  if (commentIds.length === 0) return new Map();
  const rows = await db()
    .select()
    .from(attachments)
    .where(inArray(attachments.commentId, [...commentIds]))
    .orderBy(asc(attachments.id));
  return groupBy(rows, ({ commentId }) => commentId);
}

/** How a file is kept: by what it is, not by what it is called. */
export async function asKept(content: Buffer) {
  const picture = sharp(content, { limitInputPixels: 80_000_000, failOn: 'error' });
  const { format, hasAlpha } = await picture.metadata().catch(() => ({ format: undefined, hasAlpha: false }));
  if (!format || !PICTURES.has(format))
    return {
      type: content.subarray(0, 5).toString('latin1') === '%PDF-' ? 'application/pdf' : 'application/octet-stream',
      content,
      size: content.length,
      width: null,
      height: null,
    };
  try {
    const upright = picture
      .rotate()
      .resize({ width: MAX_SIDE, height: MAX_SIDE, fit: 'inside', withoutEnlargement: true });
    const { data, info } = await (hasAlpha ? upright.png() : upright.jpeg({ quality: 85 })).toBuffer({
      resolveWithObject: true,
    });
    return {
      type: hasAlpha ? 'image/png' : 'image/jpeg',
      content: data,
      size: data.length,
      width: info.width,
      height: info.height,
    };
  } catch {
    throw new Problem(400, 'The picture is damaged and cannot be read. Nothing was stored; choose another one.');
  }
}
