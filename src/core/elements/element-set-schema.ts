import Joi from 'joi';
import { ELEMENT_COLUMNS } from './element-columns';
import type { ElementRef } from './element-ref';
import type { ElementSet, Where } from './element-set';

const text = Joi.string().allow('').max(500);
const guid = Joi.string().min(1).max(64);
const MOST_CLAUSES = 2000;

export const elementRefSchema = Joi.object<ElementRef>({
  model: Joi.string().uuid().required(),
  guid: guid.required(),
});

const condition = Joi.alternatives(
  Joi.object({ is: Joi.valid('model').required(), value: Joi.string().uuid().required() }),
  Joi.object({ is: Joi.valid('search', ...ELEMENT_COLUMNS).required(), value: text.required() }),
  Joi.object({ is: Joi.valid('element').required(), guids: Joi.array().items(guid).required() }),
  Joi.object({
    is: Joi.valid('fact').required(),
    set: text.required(),
    name: text.required(),
    value: text,
    from: Joi.number(),
    to: Joi.number(),
  })
    .xor('value', 'from')
    .without('value', 'to'),
  Joi.object({
    is: Joi.valid('fact').required(),
    set: text.required(),
    name: text.required(),
    to: Joi.number().required(),
  }),
);

/** Elements that meet every condition. How many are named one by one is bounded by the size of a message alone. */
export const whereSchema = Joi.array<Where>().items(condition).max(20);
export const wheresSchema = Joi.array<Where[]>().items(whereSchema).max(MOST_CLAUSES);

export const elementSetSchema = Joi.array<ElementSet>()
  .items(Joi.object({ also: whereSchema.required() }), Joi.object({ except: whereSchema.required() }))
  .max(MOST_CLAUSES);
