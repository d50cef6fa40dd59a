import Joi from 'joi';
import { changePassword } from '@/server/accounts';
import { answering, limitDoor, readBody } from '../answering';

const schema = Joi.object<{ present: string; next: string }>({
  present: Joi.string().max(128).required().label('the present password'),
  next: Joi.string().min(8).max(128).required().label('the new password'),
});

/** Changes the account's own password. */
export const POST = answering(async ({ request, actor }) => {
  await limitDoor(request);
  const { present, next } = await readBody(request, schema);
  await changePassword(actor, request.headers, present, next);
});
