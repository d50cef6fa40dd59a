import Joi from 'joi';
import {
  INKS,
  isWholeMark,
  MARK_KINDS,
  MOST_MARK_NUMBERS,
  MOST_MARK_POINTS,
  MOST_MARK_TEXT,
  MOST_MARKS,
  PENS,
  type Mark,
} from '../mark/marks';
import { cameraSchema } from './camera-schema';

const number = Joi.number().min(-1e8).max(1e8);

/** Everything of a mark; what is still being drawn need not be whole. */
export const markShapeSchema = Joi.object<Mark>({
  id: Joi.string().min(1).max(40).required(),
  kind: Joi.string()
    .valid(...MARK_KINDS)
    .required(),
  ink: Joi.string()
    .valid(...INKS)
    .required(),
  pen: Joi.string()
    .valid(...PENS)
    .required(),
  points: Joi.array()
    .items(number)
    .max(MOST_MARK_POINTS * 3)
    .required(),
  pressures: Joi.array().items(Joi.number().min(0).max(1)).max(MOST_MARK_POINTS).required(),
  text: Joi.string().allow('').max(MOST_MARK_TEXT).required(),
  camera: cameraSchema.allow(null).required(),
  by: Joi.object({ id: Joi.string().max(64).required(), name: Joi.string().allow('').max(200).required() }).required(),
});

const markSchema = markShapeSchema.custom((value: Mark, helpers) =>
  isWholeMark(value) ? value : helpers.error('any.invalid'),
);

export const marksSchema = Joi.array()
  .items(markSchema)
  .max(MOST_MARKS)
  .unique('id')
  .custom((value: Mark[], helpers) =>
    value.reduce((sum, { points }) => sum + points.length, 0) <= MOST_MARK_NUMBERS
      ? value
      : helpers.message({ custom: 'so much cannot be drawn over one view; take some of it away' }),
  );
