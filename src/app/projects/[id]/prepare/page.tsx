import { may } from '@/core/rights';
import { authorise } from '@/server/access/access';
import { readConnection } from '@/server/model-store/connections';
import { listSources } from '@/server/model-store/sources';
import { listOptionSets } from '@/server/review/options';
import { readProject } from '@/server/projects/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { Prepare } from '@/ui/prepare/prepare';
import { accountOf, orNotFound, pageActor } from '../../../page-access';

export default async function PreparePage({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<{ store?: string }>;
}) {
  const { id } = await params;
  const { store: outcome } = await searchParams;
  const actor = await pageActor();
  const role = await orNotFound(authorise(actor, id, 'model.publish'));
  const [project, options, connection] = await Promise.all([
    readProject(actor, id),
    listOptionSets(actor, id),
    readConnection(actor),
  ]);
  const store = connection && {
    connection,
    sources: await listSources(actor, id),
    refused: outcome === 'refused',
  };
  return (
    <>
      <TopBar home="/projects" project={project} station="prepare" account={accountOf(actor)} />
      <Prepare initial={project} initialOptions={options} mayInvite={may(role, 'link.manage')} store={store} />
    </>
  );
}
