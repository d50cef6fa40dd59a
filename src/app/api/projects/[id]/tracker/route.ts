import Joi from 'joi';
import { connectTracker, disconnectTracker, readTracker } from '@/server/exchange/tracker';
import { answering, readBody } from '../../../answering';

const schema = Joi.object<{ url: string; token: string }>({
  url: Joi.string().uri({ scheme: ['http', 'https'] }).max(500).required().label('the address').messages({ 'string.uri': 'that is no web address', 'string.uriCustomScheme': 'that is no web address' }), // prettier-ignore
  token: Joi.string().min(1).max(500).required().label('the token'),
});

export const GET = answering(async ({ actor, params }) => ({ tracker: await readTracker(actor, params.id!) }));

export const PUT = answering(async ({ request, actor, params }) => {
  const { url, token } = await readBody(request, schema);
  await connectTracker(actor, params.id!, url, token);
});

export const DELETE = answering(({ actor, params }) => disconnectTracker(actor, params.id!));
