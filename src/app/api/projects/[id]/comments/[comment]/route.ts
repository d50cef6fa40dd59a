import Joi from 'joi';
import { setCommentStatus } from '@/server/review/comments';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<{ status: 'open' | 'closed' }>({ status: Joi.valid('open', 'closed').required() });

export const PATCH = answering(async ({ request, actor, params }) => {
  await setCommentStatus(actor, params.id!, params.comment!, (await readBody(request, schema)).status);
});
