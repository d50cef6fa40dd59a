import Joi from 'joi';
import { stageModels } from '@/server/projects/projects';
import { answering, readQuery } from '../../../answering';

const schema = Joi.object<{ revision?: string }>({ revision: Joi.string().uuid() });

/** The models on the stage: the newest revisions, or an older one in the place of its model's newest. */
export const GET = answering(({ request, actor, params }) => {
  const { revision } = readQuery(request, schema);
  return stageModels(actor, params.id!, revision ? [revision] : []);
});
