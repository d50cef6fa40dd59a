import { topicSnapshot } from '@/server/exchange/bcf-api';
import { pictureAnswer } from '@/app/api/answering';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(async ({ actor, params }) =>
  pictureAnswer(await topicSnapshot(actor, params.id!, params.topic!, params.viewpoint!)),
);
