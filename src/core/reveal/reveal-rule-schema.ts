import Joi from 'joi';
import { REVEAL_COLUMNS, type RevealRule } from './reveal-rule';

export const revealRuleSchema = Joi.object<RevealRule>({
  withheld: Joi.array()
    .items(
      Joi.object({
        column: Joi.valid(...REVEAL_COLUMNS).required(),
        value: Joi.string().allow('').max(500).required(),
      }),
    )
    .max(5000)
    .required(),
  elements: Joi.array().items(Joi.string().min(1).max(64)).max(200_000).required(),
  knownCategories: Joi.array().items(Joi.string().max(500)).max(5000).required(),
  box: Joi.array().items(Joi.number().min(-1e8).max(1e8)).length(6),
});
