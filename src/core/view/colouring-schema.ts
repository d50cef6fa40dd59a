import Joi from 'joi';
import { elementSetSchema } from '../elements/element-set-schema';
import { COLOUR, MOST_COLOURED, type Colouring } from './colouring';

export const colouringSchema = Joi.array<Colouring>()
  .items(
    Joi.object({
      of: elementSetSchema.required(),
      colour: Joi.string().pattern(COLOUR, 'a colour such as #d9a036').required(),
    }),
  )
  .max(MOST_COLOURED);
