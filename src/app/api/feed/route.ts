import Joi from 'joi';
import { ACTIVITY_KINDS, type ActivityKind } from '@/core/project/activity';
import { readFeed } from '@/server/review/activities';
import { answering, readQuery } from '../answering';

const schema = Joi.object<{ project?: string; by?: string; kind?: ActivityKind; before?: string }>({
  project: Joi.string().uuid(),
  by: Joi.string().max(200),
  kind: Joi.string().valid(...ACTIVITY_KINDS),
  before: Joi.string().uuid(),
});

/** What was done, newest first, a page at a time. */
export const GET = answering(({ request, actor }) => {
  const { project, by, kind, before } = readQuery(request, schema);
  return readFeed(actor, { projectId: project, by, kinds: kind && [kind], before });
});
