import Joi from 'joi';
import { isWhole, MEASURE_KINDS, MOST_MEASURES, MOST_POINTS, type Measure } from '../measure/measures';

const point = Joi.array().items(Joi.number().min(-1e8).max(1e8)).length(3);
const normal = Joi.array().items(Joi.number().min(-1).max(1)).length(3);

const measure = Joi.object<Measure>({
  id: Joi.string().min(1).max(40).required(),
  name: Joi.string().max(120).allow('').required(),
  kind: Joi.string()
    .valid(...MEASURE_KINDS)
    .required(),
  points: Joi.array().items(point).min(1).max(MOST_POINTS).required(),
  normals: Joi.array().items(normal).max(2).required(),
  area: Joi.number().min(0).max(1e12).allow(null).required(),
}).custom((value: Measure, helpers) => (isWhole(value) ? value : helpers.error('any.invalid')));

export const measuresSchema = Joi.array().items(measure).max(MOST_MEASURES).unique('id');
