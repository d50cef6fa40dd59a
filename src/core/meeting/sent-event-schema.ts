import Joi from 'joi';
import { cameraSchema, elementRefSchema, visibilitySchema } from '../viewpoint-schema';

/** What may be sent as an event of a meeting. */
export const sentEventSchema = Joi.alternatives(
  Joi.object({ type: Joi.valid('lead-asked', 'lead-taken', 'ended').required() }),
  Joi.object({ type: Joi.valid('lead-passed').required(), to: Joi.string().max(64).required() }),
  Joi.object({ type: Joi.valid('view-settled').required(), camera: cameraSchema.required() }),
  Joi.object({ type: Joi.valid('visibility-set').required(), visibility: visibilitySchema.required() }),
  Joi.object({
    type: Joi.valid('selection-set').required(),
    selection: Joi.array().items(elementRefSchema).max(1000).required(),
  }),
  Joi.object({ type: Joi.valid('viewpoint-applied').required(), viewpoint: Joi.string().uuid().required() }),
);
