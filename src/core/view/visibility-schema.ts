import Joi from 'joi';
import { elementSetSchema } from '../elements/element-set-schema';
import type { Visibility } from './visibility';

export const visibilitySchema = Joi.object<Visibility>({
  shown: elementSetSchema.required(),
  hiddenModels: Joi.array().items(Joi.string().uuid()).max(500).required(),
});
