import Joi from 'joi';
import { TOKEN_RIGHTS, type TokenRight } from '@/core/rights';
import { createToken, listTokens } from '@/server/tokens';
import { answering, readBody, typedText } from '../answering';

const schema = Joi.object<{ label: string; right: TokenRight }>({
  label: typedText(80, 'what it is for'),
  right: Joi.string()
    .valid(...TOKEN_RIGHTS)
    .required(),
});

export const GET = answering(({ actor }) => listTokens(actor));

export const POST = answering(async ({ request, actor }) => {
  const { label, right } = await readBody(request, schema);
  return createToken(actor, label, right);
});
