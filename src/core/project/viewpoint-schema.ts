import Joi from 'joi';
import { typedText } from '../forms/typed-text-schema';
import { PART_NAMES, type ViewState } from '../view/view-state';
import { viewStateSchema } from '../view/view-state-schema';
import { MOST_MINUTES, type ViewpointDetails } from './viewpoint-card';

export type ViewpointPatch = Partial<ViewpointDetails> & {
  /** Where it stands in the order, from 0. */
  index?: number;
  deleted?: boolean;
  /** What it shows from now on, and its picture. */
  state?: ViewState;
  picture?: string;
};

export const viewpointPatchSchema = Joi.object<ViewpointPatch>({
  name: typedText(120, 'the name').optional(),
  group: Joi.string().trim().max(60).allow('').label('the group'),
  isShared: Joi.boolean(),
  question: Joi.string().max(500).allow('').label('the question'),
  minutes: Joi.number().integer().min(1).max(MOST_MINUTES).allow(null).label('the minutes'),
  parts: Joi.array()
    .items(Joi.valid(...PART_NAMES))
    .min(1)
    .unique()
    .allow(null)
    .label('the parts'),
  index: Joi.number().integer().min(0).max(10_000),
  deleted: Joi.boolean(),
  state: viewStateSchema,
  picture: Joi.string().max(3_000_000),
})
  .with('picture', 'state')
  .min(1);
