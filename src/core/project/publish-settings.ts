import type { FindingKind } from '../examination/finding';
import { readRevealRule, type RevealRule } from '../reveal/reveal-rule';
import { asRecord } from '../elements/read-element-set';
import { readSurfaceRules, type SurfaceRule } from '../surfaces/surface-rule';
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

/** Settings as they may have been stored by any earlier version. */
export function readPublishSettings(stored: unknown): PublishSettings {
  const settings = asRecord(stored);
  return {
    ...settings,
    ...(settings.reveal !== undefined && { reveal: readRevealRule(settings.reveal) }),
    ...(settings.surfaces !== undefined && { surfaces: readSurfaceRules(settings.surfaces) }),
  };
}

/** Whether the file is only to be looked at first, or published as soon as it is read. */
export const INTENTS = ['publish', 'look'] as const;
export type PublishIntent = (typeof INTENTS)[number];
