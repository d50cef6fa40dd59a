import { and, eq, lt } from 'drizzle-orm';
import { groupBy } from '@/core/group-by';
import { ACTIVITY_WORDS, addressOf } from '@/core/project/activity';
import { db } from '@/db/database';
import { dailyMails, user } from '@/db/schema';
import { requirePerson, type Actor } from '../access/access';
import { config } from '../config';
import { enqueueMail } from '../publishing/queue';
import { doneSince } from '../review/activities';
import { sendMail } from './mail';

/** From this hour of the day on (UTC) a mail about the day before goes out. */
const HOUR = 5;

/** Whether somebody gets a mail a day about what others did. */
export async function wantsDailyMail(actor: Actor): Promise<boolean> {
  const [row] = await db().select().from(dailyMails).where(eq(dailyMails.userId, actor.id));
  return row !== undefined;
}

export async function setDailyMail(actor: Actor, isWanted: boolean): Promise<void> {
  requirePerson(actor);
  if (isWanted) await db().insert(dailyMails).values({ userId: actor.id }).onConflictDoNothing();
  else await db().delete(dailyMails).where(eq(dailyMails.userId, actor.id));
}

/**
 * Hands over a mail to everybody who wishes one and has not had this day's. Of several processes that come to it at once one
 * does it. Returns how many.
 */
export async function handOverDailyMails(now = new Date()): Promise<number> {
  if (!config().smtpUrl) return 0;
  const day = new Date(now);
  day.setUTCHours(HOUR, 0, 0, 0);
  if (now < day) return 0;
  const due = await db().select().from(dailyMails).where(lt(dailyMails.toldUntil, day));
  let handed = 0;
  for (const { userId, toldUntil } of due) {
    const taken = await db()
      .update(dailyMails)
      .set({ toldUntil: now })
      .where(and(eq(dailyMails.userId, userId), lt(dailyMails.toldUntil, day)))
      .returning({ id: dailyMails.userId });
    if (taken.length === 0) continue;
    await enqueueMail(
      { daily: userId, since: toldUntil.toISOString() },
      0,
      `daily ${userId} ${toldUntil.toISOString()}`,
    );
    handed++;
  }
  return handed;
}

/** Mails what others did since then, project by project; nothing where nothing was done. @throws Error if the mail server refuses */
export async function mailDay(userId: string, since: Date): Promise<void> {
  const [person] = await db().select({ email: user.email }).from(user).where(eq(user.id, userId));
  const done = await doneSince(userId, since);
  if (!person || done.length === 0) return;
  const projects = groupBy(done, ({ project }) => project);
  await sendMail({
    to: person.email,
    subject: `${[...projects.keys()].join(', ')}: ${done.length} ${done.length === 1 ? 'thing was' : 'things were'} done`,
    text: [
      ...[...projects].map(([project, own]) =>
        [
          project,
          ...own.map((one) => {
            const { by, kind, text } = one;
            return `${by.name} ${ACTIVITY_WORDS[kind]} ${text}\n${config().publicUrl}${addressOf(one)}`;
          }),
        ].join('\n\n'),
      ),
      'You get this mail because you wish one a day. Turn it off in your settings:',
      `${config().publicUrl}/settings`,
    ].join('\n\n'),
  });
}
