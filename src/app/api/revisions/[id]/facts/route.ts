import Joi from 'joi';
import { listFacts, listFactValues } from '@/server/projects/facts';
import { answering, readQuery } from '../../../answering';

const schema = Joi.object<{ set?: string; name?: string }>({
  set: Joi.string().max(500),
  name: Joi.string().max(500),
}).and('set', 'name');

/** Which facts there are; with a set and a name, which values that fact has. */
export const GET = answering(({ request, actor, params }) => {
  const { set, name } = readQuery(request, schema);
  return set === undefined ? listFacts(actor, params.id!) : listFactValues(actor, params.id!, set, name!);
});
