import Joi from 'joi';
import { stageModels } from '@/server/projects/projects';
import { answering, readQuery } from '../../../answering';

const MOST = 200;
const schema = Joi.object<{ revision?: string; only?: string }>({
  revision: Joi.string()
    .pattern(/^[0-9a-f-]{36}(,[0-9a-f-]{36})*$/)
    .max(37 * MOST),
  only: Joi.valid('1'),
});

/**
 * The models on the stage: the newest revisions, or older ones, apart by commas, in the place of their models' newest; with
 * `only=1` no others.
 */
export const GET = answering(({ request, actor, params }) => {
  const { revision, only } = readQuery(request, schema);
  return stageModels(actor, params.id!, revision?.split(',') ?? [], only === '1');
});
