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
import { eventsAfter, meetingState } from './meeting-log';
import { readMeeting } from './meetings';
import { revisionsOf } from './revisions-then';

/**
 * A meeting that somebody may see again: members, and guests who were there as long as they may enter the project.
 *
 * @throws Problem 403, 404
 */
async function authoriseReplay(actor: Actor, meetingId: string) {
  const { meeting, project } = await readMeeting(meetingId);
  const role = await authorise(actor, project.id, 'project.read');
  if (!may(role, 'minutes.read')) {
    const { participants } = await meetingState(meetingId);
    if (!participants.some(({ id }) => id === actor.id)) throw forbidden();
  }
  const stood = await revisionsOf(project.id, meeting.startedAt, meeting.endedAt ?? new Date());
  return { meeting, projectId: project.id, role, stood };
}

/** A meeting as it was: its events, what was said and shown in it, and which revisions stood when. */
export async function readRecording(actor: Actor, meetingId: string): Promise<Recording> {
  const { meeting, projectId, stood } = await authoriseReplay(actor, meetingId);
  const [events, said, cards] = await Promise.all([
    eventsAfter(meetingId, 0),
    db()
      .select({ id: comments.id, number: comments.number, text: comments.text, kind: comments.kind })
      .from(comments)
      .where(eq(comments.meetingId, meetingId)),
    db()
      .select({ id: viewpoints.id, name: viewpoints.name })
      .from(viewpoints)
      .where(eq(viewpoints.projectId, projectId)),
  ]);
  return {
    projectId,
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
  const { projectId, role, stood } = await authoriseReplay(actor, meetingId);
  const known = new Set(stood.flatMap((turn) => turn.ids));
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
