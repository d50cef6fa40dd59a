import Joi from 'joi';
import { REVEAL_COLUMNS, type RevealRule } from './reveal-rule';

const branch = Joi.object({
  column: Joi.valid(...REVEAL_COLUMNS).required(),
  value: Joi.string().allow('').max(500).required(),
});
const guids = Joi.array().items(Joi.string().min(1).max(64)).max(200_000);

export const revealRuleSchema = Joi.object<RevealRule>({
  withheld: Joi.array().items(branch).max(5000).required(),
  parts: Joi.array()
    .items(
      Joi.object({
        within: Joi.array().items(branch).length(2).required(),
        revealed: Joi.boolean().required(),
      }),
    )
    .max(20_000),
  elements: guids.required(),
  revealed: guids,
  knownCategories: Joi.array().items(Joi.string().max(500)).max(5000).required(),
  box: Joi.array().items(Joi.number().min(-1e8).max(1e8)).length(6),
});
