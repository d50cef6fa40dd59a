import Joi from 'joi';
import { JOB_FILTERS, type JobFilter } from '@/core/jobs/job';
import { listJobs } from '@/server/jobs';
import { answering, readQuery } from '../answering';

const schema = Joi.object<{ filter: JobFilter; before?: Date }>({
  filter: Joi.valid(...JOB_FILTERS).default('all'),
  before: Joi.date().iso(),
});

/** Publications of all the account's projects. */
export const GET = answering(({ request, actor }) => {
  const { filter, before } = readQuery(request, schema);
  return listJobs(actor, filter, before);
});
