import { eq } from 'drizzle-orm';
import { mentionedIn } from '@/core/project/mentions';
import { db } from '@/db/database';
import { members, user } from '@/db/schema';
import type { Actor } from '../access/access';
import { enqueueMail } from '../publishing/queue';

/** Asks for a mail to every member whom a comment or an answer names, apart from who said it. */
export async function tellMentioned(actor: Actor, projectId: string, commentId: string, text: string): Promise<void> {
  if (!text.includes('@')) return;
  const people = await db()
    .select({ id: user.id, name: user.name, email: user.email })
    .from(members)
    .innerJoin(user, eq(user.id, members.userId))
    .where(eq(members.projectId, projectId));
  for (const { id, email } of mentionedIn(text, people))
    if (id !== actor.id) await enqueueMail({ mention: commentId, to: email, by: actor.name }, 0);
}
