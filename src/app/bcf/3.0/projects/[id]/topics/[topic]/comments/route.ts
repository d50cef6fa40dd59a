import { commentSchema, listTopicComments, makeTopicComment } from '@/server/exchange/bcf-api';
import { readBody, requestKey } from '@/app/api/answering';
import { bcfAnswering, made } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(({ actor, params }) => listTopicComments(actor, params.id!, params.topic!));

export const POST = bcfAnswering(async ({ request, actor, params }) => {
  const body = await readBody(request, commentSchema);
  return made(await makeTopicComment(actor, params.id!, params.topic!, body, requestKey(request, actor)));
});
