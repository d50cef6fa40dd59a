import Joi from 'joi';
import { whereSchema } from '../elements/element-set-schema';
import type { OptionChoice, OptionMember, OptionSetDraft } from './option-set';

const name = (label: string) => Joi.string().trim().min(1).max(80).required().label(label);

/** A member is of one model. */
const member = whereSchema.custom((where: OptionMember, helpers) =>
  where.filter((condition) => condition.is === 'model').length === 1 ? where : helpers.error('any.invalid'),
);

/** What may be sent of a place with alternatives. */
export const optionSetDraftSchema = Joi.object<OptionSetDraft>({
  name: name('the name of the place'),
  options: Joi.array()
    .items(Joi.object({ name: name('the name of an option'), members: Joi.array().items(member).max(50).required() }))
    .min(2)
    .max(12)
    .required()
    .label('the options'),
});

/** What may be sent of a choice. */
export const optionChoiceSchema = Joi.object<OptionChoice>().pattern(Joi.string().uuid(), Joi.string().uuid()).max(100);
