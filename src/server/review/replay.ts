import { and, eq, inArray } from 'drizzle-orm';
import type { Recording } from '@/core/meeting/recording';
import type { StageModelSource } from '@/core/project/models';
import { may } from '@/core/rights';
import { db } from '@/db/database';
import { comments, revisions, viewpoints } from '@/db/schema';
import { authorise, type Actor } from '../access/access';
import { forbidden } from '../problems';
import { modelsOnStage } from '../projects/projects';
import { stands } from '../projects/standing-revisions';
import { eventsAfter } from './meeting-log';
import { readMeeting } from './meetings';
import { revisionsOf } from './revisions-then';

/**
 * A meeting as it was: its events, what was said and shown in it, and which revisions stood when. For members, and for guests
 * who were there as long as they may enter the project.
 */
export async function readRecording(actor: Actor, meetingId: string): Promise<Recording> {
  const { meeting, project } = await readMeeting(meetingId);
  const role = await authorise(actor, project.id, 'project.read');
  const events = await eventsAfter(meetingId, 0);
  const wasThere = events.some(({ event }) => event.type === 'joined' && event.participant.id === actor.id);
  if (!may(role, 'minutes.read') && !wasThere) throw forbidden();
  const [said, cards, stood] = await Promise.all([
    db()
      .select({ id: comments.id, number: comments.number, text: comments.text, kind: comments.kind })
      .from(comments)
      .where(eq(comments.meetingId, meetingId)),
    db()
      .select({ id: viewpoints.id, name: viewpoints.name })
      .from(viewpoints)
      .where(eq(viewpoints.projectId, project.id)),
    revisionsOf(project.id, meeting.startedAt, meeting.endedAt ?? new Date()),
  ]);
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
    revisions: stood,
  };
}

/**
 * Models that stood at some time of a meeting, for whom may see it again. What was taken back since then shows only to whom may
 * publish.
 *
 * @param ids of revisions
 */
export async function modelsThen(actor: Actor, meetingId: string, ids: readonly string[]): Promise<StageModelSource[]> {
  const { projectId, revisions: then } = await readRecording(actor, meetingId);
  const role = await authorise(actor, projectId, 'project.read');
  const known = new Set(then.flatMap((turn) => turn.ids));
  const rows = await db()
    .select({ id: revisions.id })
    .from(revisions)
    .where(
      and(
        inArray(
          revisions.id,
          ids.filter((id) => known.has(id)),
        ),
        may(role, 'model.publish') ? undefined : stands(),
      ),
    );
  return modelsOnStage(
    projectId,
    rows.map(({ id }) => id),
    true,
  );
}
