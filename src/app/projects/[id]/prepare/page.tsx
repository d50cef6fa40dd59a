import { may } from '@/core/rights';
import { authorise } from '@/server/access';
import { listOptionSets } from '@/server/options';
import { readProject } from '@/server/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { Prepare } from '@/ui/prepare/prepare';
import { accountOf, orNotFound, pageActor } from '../../../page-access';

export default async function PreparePage({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  const actor = await pageActor();
  const role = await orNotFound(authorise(actor, id, 'model.publish'));
  const [project, options] = await Promise.all([readProject(actor, id), listOptionSets(actor, id)]);
  return (
    <>
      <TopBar home="/projects" project={project} station="prepare" account={accountOf(actor)} />
      <Prepare initial={project} initialOptions={options} mayInvite={may(role, 'link.manage')} />
    </>
  );
}
