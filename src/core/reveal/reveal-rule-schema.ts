import Joi from 'joi';
import { elementSetSchema } from '../elements/element-set-schema';
import type { RevealRule } from './reveal-rule';

export const revealRuleSchema = Joi.object<RevealRule>({
  of: elementSetSchema.required(),
  knownCategories: Joi.array().items(Joi.string().allow('').max(500)).max(5000).required(),
  box: Joi.array().items(Joi.number().min(-1e8).max(1e8)).length(6),
});
