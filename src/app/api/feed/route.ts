import { readFeed } from '@/server/review/activities';
import { answering, readQuery } from '../answering';
import { feedQuerySchema } from '../follow-up-operations';

/** What was done, newest first, a page at a time. */
export const GET = answering(({ request, actor }) => {
  const { project, by, kind, before } = readQuery(request, feedQuerySchema);
  return readFeed(actor, { projectId: project, by, kinds: kind && [kind], before });
});
