import { projectSchema } from '@/core/forms/project-schema';
import { createProject, listProjects } from '@/server/projects/projects';
import { answering, readBody } from '../answering';

export const GET = answering(({ actor }) => listProjects(actor));

export const POST = answering(async ({ request, actor }) => {
  const { name, place } = await readBody(request, projectSchema);
  return { id: await createProject(actor, name, place) };
});
