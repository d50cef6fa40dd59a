import Joi from 'joi';
import type { TrackerChanges, TrackerIssue } from './tracker-issue';

const issue = Joi.object<TrackerIssue>({
  id: Joi.string().max(100).required(),
  version: Joi.number().integer().required(),
  body: Joi.string().max(20_000).required(),
  type: Joi.valid('note', 'question', 'decision', 'task').required(),
  state: Joi.valid('todo', 'doing', 'review', 'done', 'again').required(),
  owner: Joi.string().allow('').max(200).required(),
  due: Joi.string()
    .allow('')
    .pattern(/^\d{4}-\d{2}-\d{2}$/)
    .required(),
  urgency: Joi.valid('low', 'normal', 'high').required(),
  deleted: Joi.boolean().required(),
  link: Joi.string().allow('').max(2000).required(),
  notes: Joi.array()
    .items(
      Joi.object({
        key: Joi.string().uuid().required(),
        text: Joi.string().max(20_000).required(),
        author: Joi.string().allow('').max(200).required(),
        at: Joi.string().isoDate().required(),
      }).unknown(),
    )
    .required(),
}).unknown();

/** What a tracker may answer. Nothing of it is trusted before it is checked. */
export const trackerIssueSchema = issue;
export const trackerChangesSchema = Joi.object<TrackerChanges>({
  cursor: Joi.string().max(200).required(),
  issues: Joi.array().items(issue).max(5000).required(),
}).unknown();
