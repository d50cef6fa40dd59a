import Joi from 'joi';
import type { DrawingTitle } from './drawing';
import type { PlainDrawing } from './plain-drawing';

const metres = Joi.number().min(-1e7).max(1e7);
const path = Joi.array()
  .items(metres)
  .min(4)
  .max(200_000)
  .custom((value: number[], helpers) => (value.length % 2 === 0 ? value : helpers.error('any.invalid')));
const word = Joi.string().max(500).allow('').required();

/** What is to be drawn on a sheet. */
export interface SheetOrder {
  drawing: PlainDrawing;
  title: DrawingTitle;
  /** 100 for 1:100. */
  scale: number;
}

export const sheetOrderSchema = Joi.object<SheetOrder>({
  drawing: Joi.object<PlainDrawing>({
    plane: Joi.object({
      normal: Joi.array().items(Joi.number().min(-1).max(1)).length(3).required(),
      offset: metres.required(),
    }).required(),
    elements: Joi.array()
      .items(
        Joi.object({
          guid: word,
          name: word,
          category: word,
          material: word,
          regions: Joi.array()
            .items(Joi.object({ border: path.min(6).required(), holes: Joi.array().items(path.min(6)).required() }))
            .required(),
          lines: Joi.array().items(path).required(),
        }),
      )
      .max(50_000)
      .required(),
  }).required(),
  title: Joi.object<DrawingTitle>({
    title: Joi.string().max(300).required(),
    revision: Joi.string().max(2000).allow(''),
    date: Joi.string().max(60).required(),
  }).required(),
  scale: Joi.number().min(1).max(10_000).required(),
});
