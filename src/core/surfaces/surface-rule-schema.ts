import Joi from 'joi';
import { SURFACE_SUBJECTS, type SurfaceRule } from './surface-rule';

export const surfaceRuleSchema = Joi.object<SurfaceRule>({
  by: Joi.valid(...SURFACE_SUBJECTS).required(),
  value: Joi.string().allow('').max(500).required(),
  fact: Joi.object({ set: Joi.string().max(500).required(), name: Joi.string().max(500).required() }).when('by', {
    is: 'fact',
    then: Joi.required(),
    otherwise: Joi.forbidden(),
  }),
  label: Joi.string().allow('').max(500).required(),
  color: Joi.string()
    .pattern(/^#[0-9a-f]{6}$/)
    .allow(null)
    .required(),
  opacity: Joi.number().min(0.05).max(1).required(),
  material: Joi.string().pattern(/\S/).max(200).allow(null).required(),
}).custom((rule: SurfaceRule, helpers) =>
  rule.color === null && rule.material === null ? helpers.error('any.invalid') : rule,
);
