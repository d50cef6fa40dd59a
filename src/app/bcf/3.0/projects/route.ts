import { listProjects } from '@/server/projects/projects';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(async ({ actor }) =>
  (await listProjects(actor)).map(({ id, name }) => ({ project_id: id, name })),
);
