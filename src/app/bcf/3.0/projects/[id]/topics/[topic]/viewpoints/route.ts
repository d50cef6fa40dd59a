import { jsonViewpointSchema } from '@/core/bcf/json-viewpoint-schema';
import { authorise } from '@/server/access/access';
import { listTopicViewpoints, makeTopicViewpoint } from '@/server/exchange/bcf-api';
import { readBody } from '@/app/api/answering';
import { bcfAnswering, made } from '@/app/bcf/bcf-answering';

const LIMIT = { most: 12 * 1024 * 1024, tooLarge: 'That viewpoint is too large to store. Use a smaller snapshot.' };

export const GET = bcfAnswering(({ actor, params }) => listTopicViewpoints(actor, params.id!, params.topic!));

export const POST = bcfAnswering(async ({ request, actor, params }) => {
  await authorise(actor, params.id!, 'comment.write');
  const body = await readBody(request, jsonViewpointSchema, LIMIT);
  return made(await makeTopicViewpoint(actor, params.id!, params.topic!, body));
});
