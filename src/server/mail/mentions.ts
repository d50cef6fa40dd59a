import { and, eq, isNull } from 'drizzle-orm';
import { db } from '@/db/database';
import { comments, projects } from '@/db/schema';
import { config } from '../config';
import { sendMail } from './mail';

/** Tells a member that a comment or an answer names them. @throws Error if the mail server refuses */
export async function mailMention(commentId: string, to: string, by: string): Promise<void> {
  const [row] = await db()
    .select({ comment: comments, project: projects.name })
    .from(comments)
    .innerJoin(projects, eq(projects.id, comments.projectId))
    .where(and(eq(comments.id, commentId), isNull(comments.deletedAt)));
  if (!row) return;
  const { id, replyTo, projectId, text, picture } = row.comment;
  await sendMail({
    to,
    subject: `${row.project}: ${by} names you`,
    text: [
      `${by} wrote:`,
      text,
      'See it in its place:',
      `${config().publicUrl}/projects/${projectId}/review?comment=${replyTo ?? id}`,
    ].join('\n\n'),
    ...(picture && { picture: { bytes: picture, describes: 'View of what was said' } }),
  });
}
