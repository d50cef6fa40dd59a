import Joi from 'joi';
import { whereSchema } from '../elements/element-set-schema';
import type { SurfaceRule } from './surface-rule';

export const surfaceRuleSchema = Joi.object<SurfaceRule>({
  of: whereSchema.min(1).required(),
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
