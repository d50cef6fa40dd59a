import { listTopics, makeTopic, querySchema, topicSchema } from '@/server/exchange/bcf-api';
import { readBody, readQuery, requestKey } from '@/app/api/answering';
import { bcfAnswering, made } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(({ request, actor, params }) =>
  listTopics(actor, params.id!, readQuery(request, querySchema)),
);

export const POST = bcfAnswering(async ({ request, actor, params }) =>
  made(await makeTopic(actor, params.id!, await readBody(request, topicSchema), requestKey(request, actor))),
);
