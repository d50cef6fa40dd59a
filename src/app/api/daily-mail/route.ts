import Joi from 'joi';
import { setDailyMail } from '@/server/mail/daily';
import { answering, readBody } from '../answering';

const schema = Joi.object<{ wanted: boolean }>({ wanted: Joi.boolean().required() });

/** Whether this person gets a mail a day about what others did. */
export const PUT = answering(async ({ request, actor }) =>
  setDailyMail(actor, (await readBody(request, schema)).wanted),
);
