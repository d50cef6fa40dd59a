import Joi from 'joi';
import { DAY_MINUTES, isDate } from '../sun/calendar';
import { MOST_EXPOSURE, type Light } from './light';

export const lightSchema = Joi.object<Light>({
  at: Joi.object({
    date: Joi.string()
      .required()
      .custom((date: string, helpers) => (isDate(date) ? date : helpers.error('any.invalid'))),
    minutes: Joi.number().min(0).less(DAY_MINUTES).required(),
  })
    .allow(null)
    .required(),
  shadows: Joi.boolean().required(),
  exposure: Joi.number().min(-MOST_EXPOSURE).max(MOST_EXPOSURE).required(),
});
