import { may } from '@/core/rights';
import { authorise } from '@/server/access/access';
import { minutesAreHeld } from '@/server/minutes/minutes';
import { listComments, listMeetings } from '@/server/review/comments';
import { readProject } from '@/server/projects/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { FollowUp } from '@/ui/follow-up/follow-up';
import { accountOf, orNotFound, pageActor } from '../../../page-access';

export default async function FollowUpPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const actor = await pageActor();
  const role = await orNotFound(authorise(actor, id, 'minutes.read'));
  const [project, meetings, comments, holdsMinutes] = await Promise.all([
    readProject(actor, id),
    listMeetings(actor, id),
    listComments(actor, id),
    minutesAreHeld(actor, id),
  ]);
  return (
    <>
      <TopBar home="/projects" project={project} station="follow-up" account={accountOf(actor)} />
      <FollowUp
        project={{ id, name: project.name }}
        meetings={meetings}
        initial={comments}
        isLead={may(role, 'meeting.lead')}
        isMember={actor.kind === 'user'}
        holdsMinutes={holdsMinutes}
      />
    </>
  );
}
