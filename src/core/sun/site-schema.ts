import Joi from 'joi';
import { isTimeZone } from './local-time';
import type { SunSite } from './sun-site';

/** A site as somebody sets it; null goes back to what the models say. */
export const siteSchema = Joi.object<{ site: SunSite | null }>({
  site: Joi.object<SunSite>({
    latitude: Joi.number().min(-90).max(90).required().label('the latitude'),
    longitude: Joi.number().min(-180).max(180).required().label('the longitude'),
    timeZone: Joi.string()
      .max(60)
      .required()
      .custom((zone: string, helpers) => (isTimeZone(zone) ? zone : helpers.error('any.invalid')))
      .label('the time zone'),
    north: Joi.number()
      .min(-2 * Math.PI)
      .max(2 * Math.PI)
      .required()
      .label('true north'),
  })
    .allow(null)
    .required(),
});
