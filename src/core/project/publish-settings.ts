import Joi from 'joi';
import { MENDABLE, type FindingKind } from '../examination/finding';
import { revealRuleSchema, type RevealRule } from '../reveal/reveal-rule';
import { MOST_SURFACE_RULES, surfaceRuleSchema, type SurfaceRule } from '../surfaces/surface-rule';
import type { ModelFrame } from '../units/length-unit';

/** What was decided about a model's files; kept for its next revisions. */
export interface PublishSettings {
  /** How the file's numbers are meant, where the file does not say it or says it wrongly. */
  frame?: Partial<ModelFrame>;
  reveal?: RevealRule;
  /** What of the findings is mended, in this revision and the next. */
  mend?: FindingKind[];
  /** Which surfaces get another colour or material; a later rule goes before an earlier one. */
  surfaces?: SurfaceRule[];
}

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

/** Whether the file is only to be looked at first, or published as soon as it is read. */
export const INTENTS = ['publish', 'look'] as const;
export type PublishIntent = (typeof INTENTS)[number];
