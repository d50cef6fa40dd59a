import Joi from 'joi';
import { mailSnapshots } from '@/server/review/snapshots';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<{ ids: string[]; to: string; text: string }>({
  ids: Joi.array().items(Joi.string().uuid()).min(1).max(50).unique().required(),
  to: Joi.string().trim().email({ tlds: false }).max(200).required().label('the address').messages({
    'string.email': 'that is no e-mail address',
  }),
  text: Joi.string().max(2000).allow('').default('').label('the text'),
});

export const POST = answering(async ({ request, actor, params }) => {
  await mailSnapshots(actor, params.id!, await readBody(request, schema));
});
