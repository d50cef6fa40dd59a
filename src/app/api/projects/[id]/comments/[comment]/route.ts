import { commentChangeSchema } from '@/core/project/comment-schema';
import { changeComment } from '@/server/review/comment-changes';
import { answering, readBody } from '../../../../answering';

export const PATCH = answering(async ({ request, actor, params }) => {
  await changeComment(actor, params.id!, params.comment!, await readBody(request, commentChangeSchema));
});
