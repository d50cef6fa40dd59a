import { readProject } from '@/server/projects/projects';
import { extensionsOf } from '@/server/exchange/bcf-api';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(async ({ actor, params }) => {
  const [{ id, name }, { project_actions }] = await Promise.all([
    readProject(actor, params.id!),
    extensionsOf(actor, params.id!),
  ]);
  return { project_id: id, name, authorization: { project_actions } };
});
