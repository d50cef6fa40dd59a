import Joi from 'joi';
import { MENDABLE } from '../examination/finding';
import { revealRuleSchema } from '../reveal/reveal-rule-schema';
import { MOST_SURFACE_RULES } from '../surfaces/surface-rule';
import { surfaceRuleSchema } from '../surfaces/surface-rule-schema';
import type { ModelFrame } from '../units/length-unit';
import type { PublishSettings } from './publish-settings';

export const modelFrameSchema = Joi.object<ModelFrame>({
  metresPerUnit: Joi.number().min(1e-9).max(1e9).required(),
  up: Joi.valid('Y', 'Z').required(),
});

export const publishSettingsSchema = Joi.object<PublishSettings>({
  frame: modelFrameSchema,
  reveal: revealRuleSchema,
  mend: Joi.array()
    .items(Joi.valid(...MENDABLE))
    .unique(),
  surfaces: Joi.array().items(surfaceRuleSchema).max(MOST_SURFACE_RULES),
});
