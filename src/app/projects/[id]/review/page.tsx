import { preload } from 'react-dom';
import { may } from '@/core/rights';
import { authorise, type Actor } from '@/server/access/access';
import { listApprovals } from '@/server/review/approvals';
import { listComments } from '@/server/review/comments';
import { runningMeeting } from '@/server/review/meetings';
import { listOptionSets } from '@/server/review/options';
import { readProject, stageModels } from '@/server/projects/projects';
import { readSite } from '@/server/projects/site';
import { listNotes } from '@/server/review/notes';
import { modelsThen, readRecording } from '@/server/review/replay';
import { notFound as noSuch } from '@/server/problems';
import { listViewpoints } from '@/server/review/viewpoints';
import { besidePage } from '@/ui/review/beside/pages';
import { Review } from '@/ui/review/review';
import { orNotFound, pageActor } from '../../../page-access';

const UUID = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/;

export default async function ReviewPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{
    comment?: string;
    note?: string;
    revision?: string;
    viewpoint?: string;
    beside?: string;
    /** A meeting that is seen again, and the number of the event from which. */
    replay?: string;
    at?: string;
  }>;
}) {
  const { id } = await params;
  const { comment, note, revision, viewpoint, beside, replay, at } = await searchParams;
  const older = revision && UUID.test(revision) ? revision : null;
  const actor = await pageActor();
  const role = await orNotFound(authorise(actor, id, 'project.read'));
  const recording = replay && UUID.test(replay) ? await orNotFound(recordingOf(actor, id, replay)) : null;
  const then = recording?.revisions[0]?.ids;
  const [project, models, options, approvals, site, viewpoints, comments, meeting, notes] = await Promise.all([
    readProject(actor, id),
    orNotFound(then ? modelsThen(actor, recording.meeting.id, then) : stageModels(actor, id, older ? [older] : [])),
    listOptionSets(actor, id),
    listApprovals(actor, id),
    readSite(actor, id),
    listViewpoints(actor, id),
    listComments(actor, id),
    recording ? null : runningMeeting(actor, id),
    note && UUID.test(note) && actor.kind === 'user' ? listNotes(actor, id) : [],
  ]);
  // The first look travels beside the scripts that will ask for it.
  for (const { baseUrl } of models)
    for (const file of ['elements.json', 'tileset.json'])
      preload(`${baseUrl}${file}`, { as: 'fetch', crossOrigin: 'anonymous' });
  return (
    <Review
      start={{
        project: { id, name: project.name },
        you: { id: actor.id, name: actor.name },
        rights: {
          arrange: may(role, 'viewpoint.edit'),
          host: may(role, 'meeting.lead'),
          comment: may(role, 'comment.write'),
          assign: may(role, 'comment.close'),
          stations: may(role, 'model.publish'),
          take: may(role, 'model.take'),
        },
        models,
        options,
        approvals,
        fixedOptions: actor.kind === 'guest' ? actor.options : {},
        site,
        viewpoints,
        comments,
        meeting,
        beside: besidePage(beside),
        first: viewpoint ?? null,
        focus: comment ?? null,
        note: notes.find((one) => one.id === note) ?? null,
        replay: recording && { recording, at: Number(at) || null },
        older,
      }}
    />
  );
}

/** A meeting of this project as it was. */
async function recordingOf(actor: Actor, projectId: string, meetingId: string) {
  const recording = await readRecording(actor, meetingId);
  if (recording.projectId !== projectId) throw noSuch('The meeting');
  return recording;
}
