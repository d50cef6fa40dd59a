import { snapshotPicture } from '@/server/review/snapshots';
import { answering, pictureAnswer } from '../../../../../answering';

export const GET = answering(async ({ actor, params }) =>
  pictureAnswer(await snapshotPicture(actor, params.id!, params.snapshot!)),
);
