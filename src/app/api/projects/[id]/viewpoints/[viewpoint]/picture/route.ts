import { viewpointPicture } from '@/server/review/viewpoints';
import { answering, pictureAnswer } from '../../../../../answering';

export const GET = answering(async ({ actor, params }) =>
  pictureAnswer(await viewpointPicture(actor, params.id!, params.viewpoint!)),
);
