import Joi from 'joi';
import { ACTIVITY_KINDS, type ActivityKind } from '@/core/project/activity';
import { addWebhook, listWebhooks } from '@/server/exchange/webhooks';
import { answering, readBody } from '../../../answering';

const schema = Joi.object<{ url: string; kinds: ActivityKind[] }>({
  url: Joi.string().uri({ scheme: ['http', 'https'] }).max(500).required().label('the address').messages({ 'string.uri': 'that is no web address', 'string.uriCustomScheme': 'that is no web address' }), // prettier-ignore
  kinds: Joi.array()
    .items(Joi.valid(...ACTIVITY_KINDS))
    .min(1)
    .unique()
    .required()
    .label('what it is told')
    .messages({ 'array.min': 'choose something that it is told' }),
});

export const GET = answering(({ actor, params }) => listWebhooks(actor, params.id!));

/** Lets a program be told what is done. The answer holds its secret, this once. */
export const POST = answering(async ({ request, actor, params }) => {
  const { url, kinds } = await readBody(request, schema);
  return addWebhook(actor, params.id!, url, kinds);
});
