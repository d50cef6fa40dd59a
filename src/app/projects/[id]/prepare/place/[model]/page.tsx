import { notFound } from 'next/navigation';
import { authorise } from '@/server/access/access';
import { listOptionSets } from '@/server/review/options';
import { georeferencePlacements } from '@/server/projects/placing';
import { readProject, stageModels } from '@/server/projects/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { Place } from '@/ui/prepare/place/place';
import { accountOf, orNotFound, pageActor } from '../../../../../page-access';

export default async function PlacePage({ params }: { params: Promise<{ id: string; model: string }> }) {
  const { id, model: modelId } = await params;
  const actor = await pageActor();
  await orNotFound(authorise(actor, id, 'model.publish'));
  const [project, models, byMap, options] = await Promise.all([
    readProject(actor, id),
    stageModels(actor, id),
    georeferencePlacements(id),
    listOptionSets(actor, id),
  ]);
  const model = project.models.find((one) => one.id === modelId);
  if (!model || !models.some((one) => one.modelId === modelId)) notFound();
  return (
    <>
      <TopBar home="/projects" project={project} station="prepare" account={accountOf(actor)} />
      <Place
        projectId={id}
        modelId={modelId}
        models={models}
        initial={model.placement}
        byMap={byMap.get(modelId) ?? null}
        options={options}
      />
    </>
  );
}
