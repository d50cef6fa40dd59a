import { and, inArray, isNotNull } from 'drizzle-orm';
import { writeBcf } from '@/core/bcf/write-bcf';
import { answersById, type Comment } from '@/core/project/comment';
import { db } from '@/db/database';
import { comments } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { readProject } from '../projects/projects';
import { attachedContents } from '../review/attachments';
import { commentViews, listComments } from '../review/comments';
import { namedViews } from './named-views';

/** Comments of a project as a BCF 3.0 file. @param ids those that are wanted; null for all */
export async function commentsBcf(actor: Actor, projectId: string, ids: readonly string[] | null): Promise<Uint8Array> {
  await authorise(actor, projectId, 'minutes.read');
  const [project, all] = await Promise.all([readProject(actor, projectId), listComments(actor, projectId)]);
  const wanted = ids && new Set(ids);
  return bcfOf(project, wanted ? all.filter(({ id, replyTo }) => wanted.has(replyTo ?? id)) : all);
}

/** Comments and their answers as a file, with their pictures and files. */
export async function bcfOf(project: { id: string; name: string }, all: readonly Comment[]): Promise<Uint8Array> {
  const threads = all.filter(({ replyTo }) => !replyTo);
  const replies = answersById(all);
  const ids = all.map(({ id }) => id);
  const [pictures, views, files] = await Promise.all([
    picturesOf(ids),
    commentViews(ids, project.id),
    attachedContents(ids),
  ]);
  const named = await namedViews(project.id, views);
  const saidOf = (comment: Comment) => ({
    comment,
    view: views.get(comment.id) ?? null,
    named: named.get(comment.id),
    picture: pictures.get(comment.id) ?? null,
  });
  return writeBcf(
    { id: project.id, name: project.name },
    threads.map((comment) => {
      const own = replies.get(comment.id) ?? [];
      return {
        ...saidOf(comment),
        replies: own.map(saidOf),
        documents: [comment, ...own].flatMap(({ id, guid }) =>
          (files.get(id) ?? []).map((file) => ({ id: file.id, comment: guid, name: file.name, content: file.content })),
        ),
      };
    }),
  );
}

async function picturesOf(ids: string[]): Promise<Map<string, Buffer>> {
  if (ids.length === 0) return new Map();
  const rows = await db()
    .select({ id: comments.id, picture: comments.picture })
    .from(comments)
    .where(and(isNotNull(comments.picture), inArray(comments.id, ids)));
  return new Map(rows.map(({ id, picture }) => [id, picture!]));
}
