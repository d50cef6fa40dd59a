import { passwordSchema } from '@/core/forms/password-schema';
import { changePassword } from '@/server/access/accounts';
import { requirePerson } from '@/server/access/access';
import { atDoor } from '@/server/access/door-guard';
import { addressOf, answering, readBody } from '../answering';

/** Changes the account's own password. */
export const POST = answering(async ({ request, actor }) => {
  const { present, next, endsTokens } = await readBody(request, passwordSchema);
  requirePerson(actor);
  await atDoor(addressOf(request), () => changePassword(actor, request.headers, present, next, endsTokens), {
    account: actor.email,
  });
});
