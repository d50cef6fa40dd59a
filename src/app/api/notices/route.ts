import Joi from 'joi';
import { listNotices, markSeen } from '@/server/mail/notices';
import { answering, readBody } from '../answering';

const schema = Joi.object<{ projectId?: string }>({ projectId: Joi.string().uuid() });

/** What lies under the account's bell. */
export const GET = answering(({ actor }) => listNotices(actor));

/** Marks it as seen. */
export const PATCH = answering(async ({ request, actor }) => {
  await markSeen(actor, (await readBody(request, schema)).projectId);
});
