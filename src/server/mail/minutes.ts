import { and, eq, gt, inArray, isNotNull, isNull } from 'drizzle-orm';
import { db } from '@/db/database';
import { guests, meetings, members, projects, user } from '@/db/schema';
import { config } from '../config';
import { enqueueMail } from '../publishing/queue';
import { meetingState } from '../review/meeting-log';
import { makeMinutes } from '../minutes/minutes';
import { meetingFiles } from '../exchange/meeting-files';
import { sendMail } from './mail';

/** Minutes of meetings that ended longer ago are not sent any more. */
const LATEST_MS = 30 * 24 * 60 * 60 * 1000;

/**
 * Hands over the minutes of meetings that have ended to be mailed: to the members of the project and to everybody who was
 * there and gave an address. Whoever ended a meeting does nothing for it, so that it comes however that process ended; of
 * several who find it one hands it over, and a person gets it once. Returns how many meetings it were.
 */
export async function handOverMinutes(): Promise<number> {
  if (!config().smtpUrl) return 0;
  const ended = await db()
    .select({ id: meetings.id, projectId: meetings.projectId })
    .from(meetings)
    .where(
      and(
        isNotNull(meetings.endedAt),
        isNull(meetings.minutesSentAt),
        eq(meetings.isHeld, false),
        gt(meetings.endedAt, new Date(Date.now() - LATEST_MS)),
      ),
    );
  for (const { id, projectId } of ended) {
    for (const to of await addressesFor(id, projectId))
      await enqueueMail({ minutes: id, to }, 0, `minutes ${id} ${to}`);
    await db().update(meetings).set({ minutesSentAt: new Date() }).where(eq(meetings.id, id));
  }
  return ended.length;
}

/** Everybody who gets the minutes, each address once. */
async function addressesFor(meetingId: string, projectId: string): Promise<string[]> {
  const { participants } = await meetingState(meetingId);
  const guestIds = participants.filter(({ guest }) => guest).map(({ id }) => id);
  const [ofMembers, ofGuests] = await Promise.all([
    db()
      .select({ email: user.email })
      .from(members)
      .innerJoin(user, eq(user.id, members.userId))
      .where(eq(members.projectId, projectId)),
    guestIds.length > 0 ? db().select({ email: guests.email }).from(guests).where(inArray(guests.id, guestIds)) : [],
  ]);
  return [...new Set([...ofMembers, ...ofGuests].flatMap(({ email }) => (email ? [email.toLowerCase()] : [])))];
}

/** Sends the minutes of a meeting to one address. @throws Error if the mail server refuses */
export async function mailMinutes(meetingId: string, to: string): Promise<void> {
  const [row] = await db()
    .select({ title: meetings.title, projectId: meetings.projectId, project: projects.name })
    .from(meetings)
    .innerJoin(projects, eq(projects.id, meetings.projectId))
    .where(eq(meetings.id, meetingId));
  if (!row) return;
  const { fileName, pdf } = await makeMinutes(meetingId);
  await sendMail({
    to,
    subject: `Minutes: ${row.title}`,
    text: [
      `The minutes of “${row.title}”, ${row.project}, are attached.`,
      'What was said goes along as a table (CSV) and for other programs (BCF). Members of the project find it here:',
      `${config().publicUrl}/projects/${row.projectId}/follow-up`,
    ].join('\n\n'),
    files: [{ name: fileName, bytes: pdf, type: 'application/pdf' }, ...(await meetingFiles(meetingId))],
  });
}
