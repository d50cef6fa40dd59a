import Joi from 'joi';
import { runningMeeting, startMeeting } from '@/server/meetings';
import { answering, readBody, typedText } from '../../../answering';

const schema = Joi.object<{ title: string }>({ title: typedText(120, 'the title') });

export const GET = answering(async ({ actor, params }) => ({ meeting: await runningMeeting(actor, params.id!) }));

export const POST = answering(async ({ request, actor, params }) => ({
  meeting: await startMeeting(actor, params.id!, (await readBody(request, schema)).title),
}));
