import Joi from 'joi';
import { holdMinutes } from '@/server/minutes/minutes';
import { answering, readBody } from '../../../answering';

const schema = Joi.object<{ held: boolean }>({ held: Joi.boolean().required() });

/** Whether minutes wait until the lead has read them. */
export const PUT = answering(async ({ request, actor, params }) => {
  await holdMinutes(actor, params.id!, (await readBody(request, schema)).held);
});
