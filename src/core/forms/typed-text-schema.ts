import Joi from 'joi';

/** A text that a person typed: not only blanks, and not longer than the place for it. */
export function typedText(max: number, label: string): Joi.StringSchema {
  const empty = `${label} is missing`;
  return Joi.string()
    .pattern(/\S/)
    .max(max)
    .required()
    .label(label)
    .messages({
      'string.pattern.base': empty,
      'string.empty': empty,
      'any.required': empty,
      'string.max': `${label} is longer than ${max} characters`,
    });
}
