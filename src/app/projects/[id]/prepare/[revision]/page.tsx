import { notFound } from 'next/navigation';
import { authorise } from '@/server/access/access';
import { readProject, readRevision } from '@/server/projects/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { Look } from '@/ui/prepare/look/look';
import { accountOf, orNotFound, pageActor } from '../../../../page-access';

export default async function LookPage({ params }: { params: Promise<{ id: string; revision: string }> }) {
  const { id, revision } = await params;
  const actor = await pageActor();
  await orNotFound(authorise(actor, id, 'model.publish'));
  const project = await readProject(actor, id);
  if (!project.models.some((model) => model.revisions.some((one) => one.id === revision))) notFound();
  const detail = await orNotFound(readRevision(actor, revision));
  return (
    <>
      <TopBar home="/projects" project={project} station="prepare" account={accountOf(actor)} />
      <Look projectId={id} initial={detail} />
    </>
  );
}
