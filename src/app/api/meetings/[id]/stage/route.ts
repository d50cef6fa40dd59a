import { modelsThen } from '@/server/review/replay';
import { revisionsQuery } from '../../../projects/[id]/stage/revisions-query';
import { answering, readQuery } from '../../../answering';

/** Models that stood at some time of a meeting, by the ids of their revisions, apart by commas. */
export const GET = answering(({ request, actor, params }) =>
  modelsThen(actor, params.id!, readQuery(request, revisionsQuery).revision?.split(',') ?? []),
);
