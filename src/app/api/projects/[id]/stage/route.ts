import { stageModels } from '@/server/projects/projects';
import { answering, readQuery } from '../../../answering';
import { revisionsQuery } from './revisions-query';

/** The models on the stage: the newest revisions, or older ones, apart by commas, in the place of their models' newest. */
export const GET = answering(({ request, actor, params }) =>
  stageModels(actor, params.id!, readQuery(request, revisionsQuery).revision?.split(',') ?? []),
);
