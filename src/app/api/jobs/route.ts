import { listJobs } from '@/server/publishing/jobs';
import { answering, readQuery } from '../answering';
import { jobQuerySchema } from '../description';

/** Publications of all the account's projects. */
export const GET = answering(({ request, actor }) => {
  const { filter, before } = readQuery(request, jobQuerySchema);
  return listJobs(actor, filter, before);
});
