import Joi from 'joi';
import { MOST_MARKS } from '../mark/marks';
import { marksSchema } from '../view/marks-schema';
import { viewChangeSchema } from '../view/view-state-schema';
import type { SentEvent } from './meeting';

/** What may be sent as an event of a meeting. */
export const sentEventSchema = Joi.alternatives<SentEvent>(
  Joi.object({ type: Joi.valid('lead-asked', 'lead-taken', 'ended').required() }),
  Joi.object({ type: Joi.valid('lead-passed').required(), to: Joi.string().max(64).required() }),
  Joi.object({
    type: Joi.valid('marked').required(),
    put: marksSchema.required(),
    gone: Joi.array().items(Joi.string().max(40)).max(MOST_MARKS).required(),
  }),
  Joi.object({ type: Joi.valid('view-changed').required(), change: viewChangeSchema.required() }),
  Joi.object({ type: Joi.valid('view-changed').required(), viewpoint: Joi.string().uuid().required() }),
);
