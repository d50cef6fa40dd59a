import { changeTopicComment, commentSchema, deleteTopicComment, readTopicComment } from '@/server/exchange/bcf-api';
import { readBody } from '@/app/api/answering';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(({ actor, params }) =>
  readTopicComment(actor, params.id!, params.topic!, params.comment!),
);

export const PUT = bcfAnswering(async ({ request, actor, params }) => {
  const { comment } = await readBody(request, commentSchema);
  return changeTopicComment(actor, params.id!, params.topic!, params.comment!, comment);
});

export const DELETE = bcfAnswering(({ actor, params }) => deleteTopicComment(actor, params.id!, params.topic!, params.comment!)); // prettier-ignore
