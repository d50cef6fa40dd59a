import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import { GUEST_COOKIE } from '@/server/access/access';
import { enterByLink } from '@/server/access/links';
import { enterByCode } from '@/server/review/meetings';
import { answeringAnyone, limitDoor, readBody } from '../answering';

const schema = Joi.object<{ name: string; token?: string; code?: string }>({
  name: typedText(60, 'your name'),
  token: Joi.string().max(64),
  code: Joi.string()
    .pattern(/^\d{6}$/)
    .label('the code')
    .messages({ 'string.pattern.base': 'the code has six digits' }),
}).xor('token', 'code');

/** A guest comes in by link or code with just a name. */
export const POST = answeringAnyone(async (request) => {
  await limitDoor(request);
  const { name, token, code } = await readBody(request, schema);
  const { projectId, secret } = token ? await enterByLink(token, name.trim()) : await enterByCode(code!, name.trim());
  const secure = request.headers.get('x-forwarded-proto') === 'https' ? '; Secure' : '';
  return Response.json(
    { projectId },
    {
      headers: {
        'Set-Cookie': `${GUEST_COOKIE}=${secret}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${60 * 60 * 24 * 60}${secure}`,
      },
    },
  );
});
