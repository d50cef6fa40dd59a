import { notFound } from 'next/navigation';
import { authorise } from '@/server/access/access';
import { listOptionSets } from '@/server/review/options';
import { readProject, stageModels } from '@/server/projects/projects';
import { TopBar } from '@/ui/frame/top-bar';
import { OptionsView } from '@/ui/prepare/options/options-view';
import { accountOf, orNotFound, pageActor } from '../../../../../page-access';

export default async function OptionsPage({ params }: { params: Promise<{ id: string; set: string }> }) {
  const { id, set: setId } = await params;
  const actor = await pageActor();
  await orNotFound(authorise(actor, id, 'model.publish'));
  const [project, models, sets] = await Promise.all([
    readProject(actor, id),
    stageModels(actor, id),
    listOptionSets(actor, id),
  ]);
  const set = sets.find((one) => one.id === setId);
  if (!set) notFound();
  return (
    <>
      <TopBar home="/projects" project={project} station="prepare" account={accountOf(actor)} />
      <OptionsView project={project} models={models} sets={sets} set={set} />
    </>
  );
}
