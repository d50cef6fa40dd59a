import Joi from 'joi';
import { wheresSchema } from '../elements/element-set-schema';
import { SPREADS, type Spread } from './spread';

export const spreadSchema = Joi.object<Spread>({
  by: Joi.valid(...SPREADS).required(),
  amount: Joi.number().min(0).max(1).required(),
  from: wheresSchema.required(),
}).allow(null);
