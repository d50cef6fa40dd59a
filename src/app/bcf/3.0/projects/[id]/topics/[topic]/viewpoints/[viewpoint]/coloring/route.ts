import { readTopicViewpoint } from '@/server/exchange/bcf-api';
import { bcfAnswering } from '@/app/bcf/bcf-answering';

export const GET = bcfAnswering(async ({ actor, params }) => ({
  coloring: (await readTopicViewpoint(actor, params.id!, params.topic!, params.viewpoint!)).components?.coloring ?? [],
}));
