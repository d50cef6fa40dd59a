import Joi from 'joi';
import { REVEAL_COLUMNS } from '../reveal/reveal-rule';
import type { OptionChoice, OptionSetDraft } from './option-set';

const name = (label: string) => Joi.string().trim().min(1).max(80).required().label(label);

/** What may be sent of a place with alternatives. */
export const optionSetDraftSchema = Joi.object<OptionSetDraft>({
  name: name('the name of the place'),
  options: Joi.array()
    .items(
      Joi.object({
        name: name('the name of an option'),
        members: Joi.array()
          .items(
            Joi.object({
              model: Joi.string().uuid().required(),
              part: Joi.object({
                column: Joi.string()
                  .valid(...REVEAL_COLUMNS)
                  .required(),
                value: Joi.string().allow('').max(500).required(),
              })
                .allow(null)
                .required(),
            }),
          )
          .max(50)
          .required(),
      }),
    )
    .min(2)
    .max(12)
    .required()
    .label('the options'),
});

/** What may be sent of a choice. */
export const optionChoiceSchema = Joi.object<OptionChoice>().pattern(Joi.string().uuid(), Joi.string().uuid()).max(100);
