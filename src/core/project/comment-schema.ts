import Joi from 'joi';
import { typedText } from '../forms/typed-text-schema';
import { COMMENT_KINDS, COMMENT_STATUSES, PRIORITIES, type CommentChange } from './comment';

const assignee = Joi.alternatives(
  Joi.object({ id: Joi.string().max(64).required() }),
  Joi.object({
    email: Joi.string().email({ tlds: false }).max(200).required().label('the address').messages({
      'string.email': 'That is no mail address.',
    }),
  }),
).allow(null);
const day = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/)
  .custom((value: string, helpers) =>
    Number.isNaN(Date.parse(value)) || new Date(value).toISOString().slice(0, 10) !== value
      ? helpers.error('any.invalid')
      : value,
  )
  .allow(null)
  .label('the day');

/** What is known of a comment beside its words. */
export const commentDetails = {
  kind: Joi.string().valid(...COMMENT_KINDS),
  assignee,
  dueOn: day,
  priority: Joi.string().valid(...PRIORITIES),
};

export const commentChangeSchema = Joi.object<CommentChange>({
  ...commentDetails,
  text: typedText(4000, 'the comment').optional(),
  status: Joi.string().valid(...COMMENT_STATUSES),
  deleted: Joi.boolean(),
}).min(1);
