import { tokenSchema } from '@/core/forms/token-schema';
import { createToken, listTokens } from '@/server/access/tokens';
import { answering, readBody } from '../answering';

export const GET = answering(({ actor }) => listTokens(actor));

export const POST = answering(async ({ request, actor }) => {
  const { label, right } = await readBody(request, tokenSchema);
  return createToken(actor, label, right);
});
