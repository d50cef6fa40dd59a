import { and, eq, inArray, isNotNull } from 'drizzle-orm';
import { writeBcf } from '@/core/bcf/write-bcf';
import { answersById } from '@/core/project/comment';
import { db } from '@/db/database';
import { comments } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { readProject } from '../projects/projects';
import { listComments } from './comments';

/** Comments of a project as a BCF 3.0 file. @param ids those that are wanted; null for all */
export async function commentsBcf(actor: Actor, projectId: string, ids: readonly string[] | null): Promise<Uint8Array> {
  await authorise(actor, projectId, 'minutes.read');
  const [project, all] = await Promise.all([readProject(actor, projectId), listComments(actor, projectId)]);
  const wanted = ids && new Set(ids);
  const threads = all.filter(({ id, replyTo }) => !replyTo && (!wanted || wanted.has(id)));
  const replies = answersById(all);
  const pictures = new Map(
    threads.length === 0
      ? []
      : (
          await db()
            .select({ id: comments.id, picture: comments.picture })
            .from(comments)
            .where(
              and(
                eq(comments.projectId, projectId),
                isNotNull(comments.picture),
                inArray(
                  comments.id,
                  threads.map(({ id }) => id),
                ),
              ),
            )
        ).map(({ id, picture }) => [id, picture] as const),
  );
  return writeBcf(
    { id: projectId, name: project.name },
    threads.map((comment) => ({
      comment,
      replies: replies.get(comment.id) ?? [],
      picture: pictures.get(comment.id) ?? null,
    })),
  );
}
