import { titleSchema } from '@/core/forms/name-schema';
import { runningMeeting, startMeeting } from '@/server/review/meetings';
import { answering, readBody } from '../../../answering';

export const GET = answering(async ({ actor, params }) => ({ meeting: await runningMeeting(actor, params.id!) }));

export const POST = answering(async ({ request, actor, params }) => ({
  meeting: await startMeeting(actor, params.id!, (await readBody(request, titleSchema)).title),
}));
