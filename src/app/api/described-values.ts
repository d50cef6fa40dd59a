import Joi from 'joi';

/** What descriptions of many operations hold. */
export const id = Joi.string().uuid();
export const time = Joi.string().isoDate();
export const nothing = Joi.object({});
