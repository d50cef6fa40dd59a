import Joi from 'joi';
import { settleConflict } from '@/server/exchange/tracker';
import { answering, readBody } from '../../../../../answering';

const schema = Joi.object<{ keeps: 'here' | 'there' }>({ keeps: Joi.valid('here', 'there').required() });

/** Says which side holds where this installation and the tracker have changed the same. */
export const POST = answering(async ({ request, actor, params }) => {
  await settleConflict(actor, params.id!, params.comment!, (await readBody(request, schema)).keeps);
});
