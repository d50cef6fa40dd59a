import Joi from 'joi';
import { optionChoiceSchema } from '../options/option-set-schema';
import type { OptionChoice } from '../options/option-set';
import { LINK_RIGHTS, type LinkRight } from '../rights';
import { typedText } from './typed-text-schema';

/** A new link. */
export const linkSchema = Joi.object<{ right: LinkRight; label: string; options: OptionChoice }>({
  right: Joi.valid(...LINK_RIGHTS).required(),
  label: typedText(80, 'whom it is for'),
  options: optionChoiceSchema.default({}),
});
