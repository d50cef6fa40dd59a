import { and, asc, eq, isNull } from 'drizzle-orm';
import type { MinutesCorrections, MinutesDraft } from '@/core/meeting/minutes-corrections';
import { db } from '@/db/database';
import { comments, meetings, projects } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { tellProject } from '../broadcast';
import { config } from '../config';
import { Problem } from '../problems';
import { readMeeting } from '../review/meetings';
import { minutesContent } from './minutes-content';
import { writeBeside } from './minutes-workshop';

/** @see makeMinutes */
export async function meetingMinutes(actor: Actor, meetingId: string): Promise<{ fileName: string; pdf: Buffer }> {
  const { project } = await readMeeting(meetingId);
  await authorise(actor, project.id, 'minutes.read');
  return makeMinutes(meetingId);
}

/** The minutes of a meeting as PDF; moments in them open the Review where the meeting was then. */
export async function makeMinutes(meetingId: string): Promise<{ fileName: string; pdf: Buffer }> {
  const { meeting } = await readMeeting(meetingId);
  const { projectId, startedAt } = meeting;
  const moments = `${config().publicUrl}/projects/${projectId}/review?replay=${meetingId}&at=`;
  const pdf = await writeBeside(() => minutesContent(meetingId), moments);
  return { fileName: `minutes-${startedAt.toISOString().slice(0, 10)}.pdf`, pdf };
}

/** Minutes to be read and corrected. */
export async function readMinutesDraft(actor: Actor, meetingId: string): Promise<MinutesDraft> {
  const { meeting, project } = await readMeeting(meetingId);
  await authorise(actor, project.id, 'meeting.lead');
  const said = await db()
    .select({
      id: comments.id,
      number: comments.number,
      author: comments.authorName,
      kind: comments.kind,
      text: comments.text,
    })
    .from(comments)
    .where(and(eq(comments.meetingId, meetingId), isNull(comments.replyTo), isNull(comments.deletedAt)))
    .orderBy(asc(comments.number));
  const { id, title, startedAt, endedAt, isHeld, corrections } = meeting;
  return {
    meeting: {
      id,
      title,
      startedAt: startedAt.toISOString(),
      endedAt: endedAt?.toISOString() ?? null,
      waits: endedAt !== null && isHeld,
    },
    corrections,
    said: said.map((one) => ({ ...one, number: one.number ?? 0 })),
  };
}

/** Corrects minutes, as often as one likes; what was said stays as it was said everywhere else. */
export async function correctMinutes(actor: Actor, meetingId: string, corrections: MinutesCorrections): Promise<void> {
  const { project } = await readMeeting(meetingId);
  await authorise(actor, project.id, 'meeting.lead');
  await db().update(meetings).set({ corrections }).where(eq(meetings.id, meetingId));
}

/** Lets minutes that waited for somebody to read them go out. @throws Problem 409 where they do not wait */
export async function releaseMinutes(actor: Actor, meetingId: string): Promise<void> {
  const { project } = await readMeeting(meetingId);
  await authorise(actor, project.id, 'meeting.lead');
  const released = await db()
    .update(meetings)
    .set({ isHeld: false })
    .where(and(eq(meetings.id, meetingId), eq(meetings.isHeld, true), isNull(meetings.minutesSentAt)))
    .returning({ id: meetings.id });
  if (released.length === 0) throw new Problem(409, 'These minutes are on their way already.');
  await tellProject(project.id, 'meeting-changed');
}

/** Whether minutes of a project wait until somebody has read them. Meetings that go on keep what held when they began. */
export async function holdMinutes(actor: Actor, projectId: string, holds: boolean): Promise<void> {
  await authorise(actor, projectId, 'meeting.lead');
  await db().update(projects).set({ holdsMinutes: holds }).where(eq(projects.id, projectId));
}

export async function minutesAreHeld(actor: Actor, projectId: string): Promise<boolean> {
  await authorise(actor, projectId, 'minutes.read');
  const [project] = await db()
    .select({ holds: projects.holdsMinutes })
    .from(projects)
    .where(eq(projects.id, projectId));
  return project!.holds;
}
