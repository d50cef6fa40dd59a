import { may } from '@/core/rights';
import { authorise } from '@/server/access/access';
import { readProject } from '@/server/projects/projects';
import { listApprovals } from '@/server/review/approvals';
import { Approvals } from '@/ui/approvals/approvals';
import { TopBar } from '@/ui/frame/top-bar';
import { accountOf, orNotFound, pageActor } from '../../../page-access';

export default async function ApprovalsPage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const actor = await pageActor();
  const role = await orNotFound(authorise(actor, id, 'project.read'));
  const [project, approvals] = await Promise.all([readProject(actor, id), listApprovals(actor, id)]);
  const isMember = actor.kind === 'user';
  const mayAsk = may(role, 'approval.ask');
  const open = new Set(approvals.filter(({ state }) => state !== 'ended').map(({ revisionId }) => revisionId));
  const revisions = project.models.flatMap((model) =>
    model.revisions
      .filter(({ id: revision, state, withdrawn }) => state === 'published' && !withdrawn && !open.has(revision))
      .map((revision) => ({ id: revision.id, name: `${model.name} ${revision.code}` })),
  );
  return (
    <>
      <TopBar
        home={isMember ? '/projects' : `/projects/${id}/review`}
        project={project}
        station={isMember ? 'follow-up' : undefined}
        account={accountOf(actor)}
      />
      <Approvals
        projectId={id}
        initial={approvals}
        revisions={mayAsk ? revisions : []}
        mayAsk={mayAsk}
        isMember={isMember}
      />
    </>
  );
}
