import Joi from 'joi';
import { elementSetSchema } from '../elements/element-set-schema';
import { CLEAREST, type Fades } from './fades';

export const fadesSchema = Joi.array<Fades>()
  .items(
    Joi.object({
      of: elementSetSchema.required(),
      clear: Joi.number().min(0).max(CLEAREST).required(),
    }),
  )
  .max(100);
