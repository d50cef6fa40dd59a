import Joi from 'joi';
import { optionChoiceSchema } from '../options/option-set-schema';
import type { OptionChoice } from '../options/option-set';
import { LINK_RIGHTS, type LinkRight } from '../rights';
import { typedText } from './typed-text-schema';

export const MOST_LINK_DAYS = 365;

/** A new link, as it is asked for. */
export interface LinkDraft {
  right: LinkRight;
  label: string;
  options: OptionChoice;
  /** Words that are asked for at the door; empty for none. */
  passphrase: string;
  /** The viewpoint with which the Review opens; null for the beginning. */
  viewpointId: string | null;
  /** Days that it is open. */
  days: number;
  /** To whom it is sent by mail; empty for nobody. */
  sendTo: string;
}

export const linkSchema = Joi.object<LinkDraft>({
  right: Joi.valid(...LINK_RIGHTS).required(),
  label: typedText(80, 'whom it is for'),
  options: optionChoiceSchema.default({}),
  passphrase: Joi.string().trim().max(80).min(6).allow('').default('').label('the passphrase').messages({
    'string.min': 'A passphrase has six letters or more.',
  }),
  viewpointId: Joi.string().uuid().empty('').allow(null).default(null),
  days: Joi.number().integer().min(1).max(MOST_LINK_DAYS).default(30).label('the days').messages({
    'number.base': 'A whole number of days, up to a year.',
    'number.integer': 'A whole number of days, up to a year.',
    'number.min': 'A whole number of days, up to a year.',
    'number.max': 'A whole number of days, up to a year.',
  }),
  sendTo: Joi.string().trim().email({ tlds: false }).max(200).allow('').default('').label('the address').messages({
    'string.email': 'That is no e-mail address.',
  }),
});
