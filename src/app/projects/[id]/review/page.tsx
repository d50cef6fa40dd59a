import { may } from '@/core/rights';
import { authorise } from '@/server/access';
import { listComments } from '@/server/comments';
import { runningMeeting } from '@/server/meetings';
import { newestRevisions, readProject } from '@/server/projects';
import { listViewpoints } from '@/server/viewpoints';
import { Review } from '@/ui/review/review';
import { orNotFound, pageActor } from '../../../page-access';

export default async function ReviewPage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ comment?: string }>;
}) {
  const { id } = await params;
  const { comment } = await searchParams;
  const actor = await pageActor();
  const role = await orNotFound(authorise(actor, id, 'project.read'));
  const [project, models, viewpoints, comments, meeting] = await Promise.all([
    readProject(actor, id),
    newestRevisions(actor, id),
    listViewpoints(actor, id),
    listComments(actor, id),
    runningMeeting(actor, id),
  ]);
  return (
    <Review
      start={{
        project: { id, name: project.name },
        you: { id: actor.id, name: actor.name },
        rights: {
          arrange: may(role, 'viewpoint.edit'),
          host: may(role, 'meeting.lead'),
          comment: may(role, 'comment.write'),
          stations: may(role, 'model.publish'),
        },
        models,
        viewpoints,
        comments,
        meeting,
        focus: comment ?? null,
      }}
    />
  );
}
