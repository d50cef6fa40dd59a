import { notePicture } from '@/server/review/notes';
import { answering, pictureAnswer } from '../../../../../answering';

export const GET = answering(async ({ actor, params }) =>
  pictureAnswer(await notePicture(actor, params.id!, params.note!)),
);
