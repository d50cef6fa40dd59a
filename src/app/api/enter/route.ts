import Joi from 'joi';
import { typedText } from '@/core/forms/typed-text-schema';
import { GUEST_COOKIE, guestSecret } from '@/server/access/access';
import { atDoor } from '@/server/access/door-guard';
import { enterByLink } from '@/server/access/links';
import { config } from '@/server/config';
import { enterByCode, tellLongCodes } from '@/server/review/meetings';
import { addressOf, answeringAnyone, readBody } from '../answering';

const schema = Joi.object<{ name: string; token?: string; passphrase: string; code?: string; email: string }>({
  name: typedText(60, 'your name'),
  token: Joi.string().max(64),
  passphrase: Joi.string().max(80).allow('').default(''),
  email: Joi.string().email({ tlds: false }).max(200).allow('').default('').label('the address').messages({
    'string.email': 'that is no mail address',
  }),
  code: Joi.string()
    .pattern(/^\d{6}(\d{3})?$/)
    .label('the code')
    .messages({ 'string.pattern.base': 'the code has six digits' }),
}).xor('token', 'code');

/** A guest comes in by link or code with just a name. */
export const POST = answeringAnyone(async (request) => {
  const { name, token, passphrase, code, email } = await readBody(request, schema);
  const { projectId, viewpointId, secret } = await atDoor(
    addressOf(request),
    async () =>
      token
        ? enterByLink(token, name.trim(), passphrase, guestSecret(request.headers), email || null)
        : { viewpointId: null, ...(await enterByCode(code!, name.trim(), email || null)) },
    token === undefined ? { onSiege: tellLongCodes } : {},
  );
  const secure = config().publicUrl.startsWith('https:') || request.headers.get('x-forwarded-proto') === 'https' ? '; Secure' : ''; // prettier-ignore
  return Response.json(
    { projectId, viewpointId },
    {
      headers: {
        'Set-Cookie': `${GUEST_COOKIE}=${secret}; Path=/; HttpOnly; SameSite=Lax; Max-Age=${60 * 60 * 24 * 60}${secure}`,
      },
    },
  );
});
