import { passwordSchema } from '@/core/forms/password-schema';
import { changePassword } from '@/server/access/accounts';
import { answering, limitDoor, readBody } from '../answering';

/** Changes the account's own password. */
export const POST = answering(async ({ request, actor }) => {
  await limitDoor(request);
  const { present, next } = await readBody(request, passwordSchema);
  await changePassword(actor, request.headers, present, next);
});
