import Joi from 'joi';
import type { PlacementChoice } from './placement';

export const placementChoiceSchema = Joi.alternatives<PlacementChoice>(
  Joi.object({ by: Joi.valid('file', 'georeference').required() }),
  Joi.object({
    by: Joi.valid('hand').required(),
    turn: Joi.number()
      .min(-2 * Math.PI)
      .max(2 * Math.PI)
      .required(),
    offset: Joi.array().items(Joi.number().min(-1e8).max(1e8)).length(3).required(),
  }),
);
