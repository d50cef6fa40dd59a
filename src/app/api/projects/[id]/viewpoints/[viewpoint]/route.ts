import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import { moveViewpoint, renameViewpoint, setViewpointDeleted } from '@/server/review/viewpoints';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<{ name?: string; index?: number; deleted?: boolean }>({
  name: typedText(120, 'the name').optional(),
  index: Joi.number().integer().min(0).max(10_000),
  deleted: Joi.boolean(),
}).xor('name', 'index', 'deleted');

export const PATCH = answering(async ({ request, actor, params }) => {
  const { name, index, deleted } = await readBody(request, schema);
  if (name !== undefined) await renameViewpoint(actor, params.id!, params.viewpoint!, name);
  else if (index !== undefined) await moveViewpoint(actor, params.id!, params.viewpoint!, index);
  else await setViewpointDeleted(actor, params.id!, params.viewpoint!, deleted!);
});
