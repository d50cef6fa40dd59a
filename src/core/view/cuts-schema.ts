import Joi from 'joi';
import { MOST_PLANES, type CutBox, type CutPlane, type Cuts } from '../cut/cuts';
import { elementSetSchema } from '../elements/element-set-schema';

const metres = Joi.number().min(-1e8).max(1e8);
const point = Joi.array().items(metres).length(3).required();
const extent = Joi.number().greater(0).max(1e6);
const shown = { isOn: Joi.boolean().required(), isFramed: Joi.boolean().required() };

const plane = Joi.object<CutPlane>({
  id: Joi.string().min(1).max(40).required(),
  normal: Joi.array()
    .items(Joi.number().min(-1).max(1))
    .length(3)
    .required()
    .custom((normal: number[], helpers) =>
      Math.abs(Math.hypot(...normal) - 1) < 1e-3 ? normal : helpers.error('any.invalid'),
    ),
  offset: metres.required(),
  thickness: extent.allow(null).required(),
  middle: point,
  ...shown,
});

const box = Joi.object<CutBox>({
  middle: point,
  size: Joi.array().items(extent).length(3).required(),
  turn: Joi.number().min(-1000).max(1000).required(),
  ...shown,
});

export const cutsSchema = Joi.object<Cuts>({
  planes: Joi.array().items(plane).max(MOST_PLANES).unique('id').required(),
  box: box.allow(null).required(),
  whole: elementSetSchema.required(),
});
