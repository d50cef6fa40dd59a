import { commentPicture } from '@/server/review/comments';
import { answering, pictureAnswer } from '../../../../../answering';

export const GET = answering(async ({ actor, params }) =>
  pictureAnswer(await commentPicture(actor, params.id!, params.comment!)),
);
