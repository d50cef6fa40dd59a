import { changeTopic, deleteTopic, readTopic, topicSchema } from '@/server/exchange/bcf-api';
import { readBody } from '@/app/api/answering';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(({ actor, params }) => readTopic(actor, params.id!, params.topic!));

export const PUT = bcfAnswering(async ({ request, actor, params }) =>
  changeTopic(actor, params.id!, params.topic!, await readBody(request, topicSchema)),
);

export const DELETE = bcfAnswering(({ actor, params }) => deleteTopic(actor, params.id!, params.topic!));
