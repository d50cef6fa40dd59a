import Joi from 'joi';
import { extendLink, revokeLink } from '@/server/access/links';
import { answering, readBody } from '../../../../answering';

const schema = Joi.object<{ action: 'extend' | 'revoke' }>({ action: Joi.valid('extend', 'revoke').required() });

export const PATCH = answering(async ({ request, actor, params }) => {
  const { action } = await readBody(request, schema);
  await (action === 'extend' ? extendLink : revokeLink)(actor, params.id!, params.link!);
});
