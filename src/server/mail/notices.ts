import { and, desc, eq, isNull } from 'drizzle-orm';
import { v7 as uuidv7 } from 'uuid';
import { noticeSentence, type Notice, type NoticeKind } from '@/core/jobs/notice';
import { revisionCode } from '@/core/revision-code';
import { db } from '@/db/database';
import { models, notices, projects, revisions, user } from '@/db/schema';
import { requirePerson, requireUser, type Actor } from '../access/access';
import { tellPerson } from '../broadcast';
import { config } from '../config';
import { sendMail } from './mail';
import { enqueueMail } from '../publishing/queue';

/** Notices that the bell holds. */
const SHOWN = 30;

/** Tells somebody how a publication ended: under the bell at once, by mail if they have not seen it there by then. */
export async function notify(
  userId: string,
  revision: Pick<typeof revisions.$inferSelect, 'id' | 'projectId'>,
  kind: NoticeKind,
  reason: string | null = null,
): Promise<void> {
  const id = uuidv7();
  await db()
    .insert(notices)
    .values({ id, userId, projectId: revision.projectId, revisionId: revision.id, kind, reason });
  await enqueueMail({ noticeId: id }, config().mailAfterSeconds);
  await tellPerson(userId);
}

/** What the bell shows: the newest first. */
export async function listNotices(actor: Actor): Promise<Notice[]> {
  requireUser(actor);
  const rows = await withNames().where(eq(notices.userId, actor.id)).orderBy(desc(notices.createdAt)).limit(SHOWN);
  return rows.map(summarise);
}

/** Marks notices as seen: those of one project, or all. */
export async function markSeen(actor: Actor, projectId?: string): Promise<void> {
  requirePerson(actor);
  const seen = await db()
    .update(notices)
    .set({ seenAt: new Date() })
    .where(
      and(
        eq(notices.userId, actor.id),
        isNull(notices.seenAt),
        projectId ? eq(notices.projectId, projectId) : undefined,
      ),
    )
    .returning({ id: notices.id });
  if (seen.length > 0) await tellPerson(actor.id);
}

/** Mails a notice to whom it is for, unless it was seen or mailed already. @throws Error if the mail server refuses */
export async function mailNotice(noticeId: string): Promise<void> {
  const [row] = await withNames().where(eq(notices.id, noticeId));
  if (!row || row.notice.seenAt || row.notice.mailedAt) return;
  const notice = summarise(row);
  await sendMail({
    to: row.email,
    subject: `${notice.projectName}: ${noticeSentence(notice)}`,
    text: [
      `Hello ${row.person},`,
      '',
      noticeSentence(notice),
      ...(notice.reason ? ['', notice.reason] : []),
      '',
      notice.kind === 'ready' ? 'Look at it and publish it here:' : 'See it here:',
      addressOf(notice),
      '',
      'You get this mail because you brought in the file and have not seen the message in Yurta.',
    ].join('\n'),
  });
  await db().update(notices).set({ mailedAt: new Date() }).where(eq(notices.id, noticeId));
}

function addressOf({ kind, projectId, revisionId }: Notice): string {
  const station = `${config().publicUrl}/projects/${projectId}/prepare`;
  return kind === 'ready' ? `${station}/${revisionId}` : station;
}

function withNames() {
  return db()
    .select({
      notice: notices,
      project: projects.name,
      model: models.name,
      fileName: revisions.fileName,
      number: revisions.number,
      email: user.email,
      person: user.name,
    })
    .from(notices)
    .innerJoin(projects, eq(projects.id, notices.projectId))
    .innerJoin(revisions, eq(revisions.id, notices.revisionId))
    .innerJoin(models, eq(models.id, revisions.modelId))
    .innerJoin(user, eq(user.id, notices.userId))
    .$dynamic();
}

function summarise({
  notice,
  project,
  model,
  fileName,
  number,
}: Omit<Awaited<ReturnType<typeof withNames>>[number], 'email' | 'person'>): Notice {
  return {
    id: notice.id,
    kind: notice.kind,
    projectId: notice.projectId,
    projectName: project,
    modelName: model,
    fileName,
    revisionId: notice.revisionId,
    code: number === null ? null : revisionCode(number),
    reason: notice.reason,
    createdAt: notice.createdAt.toISOString(),
    seen: notice.seenAt !== null,
  };
}
