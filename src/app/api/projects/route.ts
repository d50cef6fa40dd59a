import Joi from 'joi';
import { createProject, listProjects } from '@/server/projects';
import { answering, readBody, typedText } from '../answering';

const schema = Joi.object<{ name: string; place: string }>({
  name: typedText(120, 'the name'),
  place: Joi.string().allow('').max(120).default('').label('the place'),
});

export const GET = answering(({ actor }) => listProjects(actor));

export const POST = answering(async ({ request, actor }) => {
  const { name, place } = await readBody(request, schema);
  return { id: await createProject(actor, name, place) };
});
