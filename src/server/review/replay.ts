import { and, asc, eq } from 'drizzle-orm';
import type { Recording } from '@/core/meeting/recording';
import { db } from '@/db/database';
import { comments, revisions, viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { eventsAfter } from './meeting-log';
import { readMeeting } from './meetings';
import { revisionsThen } from './revisions-then';

/** A meeting as it was: its events, what was said and shown in it, and which revisions stood when. */
export async function readRecording(actor: Actor, meetingId: string): Promise<Recording> {
  const { meeting, project } = await readMeeting(meetingId);
  await authorise(actor, project.id, 'minutes.read');
  const [events, said, cards, published] = await Promise.all([
    eventsAfter(meetingId, 0),
    db()
      .select({ id: comments.id, number: comments.number, text: comments.text, kind: comments.kind })
      .from(comments)
      .where(eq(comments.meetingId, meetingId)),
    db()
      .select({ id: viewpoints.id, name: viewpoints.name })
      .from(viewpoints)
      .where(eq(viewpoints.projectId, project.id)),
    db()
      .select({
        id: revisions.id,
        modelId: revisions.modelId,
        number: revisions.number,
        publishedAt: revisions.publishedAt,
        withdrawnAt: revisions.withdrawnAt,
      })
      .from(revisions)
      .where(and(eq(revisions.projectId, project.id), eq(revisions.state, 'published')))
      .orderBy(asc(revisions.number)),
  ]);
  const end = meeting.endedAt ?? new Date();
  return {
    projectId: project.id,
    meeting: {
      id: meeting.id,
      title: meeting.title,
      startedAt: meeting.startedAt.toISOString(),
      endedAt: meeting.endedAt?.toISOString() ?? null,
      waits: meeting.endedAt !== null && meeting.isHeld,
    },
    events,
    comments: said,
    viewpoints: cards,
    revisions: revisionsThen(
      published.map(({ id, modelId, number, publishedAt, withdrawnAt }) => ({ id, modelId, number: number!, publishedAt: publishedAt!, withdrawnAt })), // prettier-ignore
      meeting.startedAt,
      end,
    ),
  };
}
