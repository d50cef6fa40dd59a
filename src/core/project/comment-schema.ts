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
/** A day such as 2026-12-24, or none. */
export const dayOrNone = Joi.string()
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
  dueOn: dayOrNone,
  priority: Joi.string().valid(...PRIORITIES),
};

export const commentChangeSchema = Joi.object<CommentChange>({
  ...commentDetails,
  text: typedText(4000, 'the comment').optional(),
  status: Joi.string().valid(...COMMENT_STATUSES),
  deleted: Joi.boolean(),
}).min(1);

/** As many comments are changed in one go. */
const MOST_AT_ONCE = 500;

/** The same change of several comments. */
export const commentsChangeSchema = Joi.object<{ ids: string[]; change: CommentChange }>({
  ids: Joi.array().items(Joi.string().uuid()).min(1).max(MOST_AT_ONCE).unique().required(),
  change: commentChangeSchema.required(),
});
