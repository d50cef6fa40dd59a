import Joi from 'joi';
import { BACKGROUNDS, COLOUR, HEAVIEST_INK, LOOKS, type Style } from './style';

export const styleSchema = Joi.object<Style>({
  look: Joi.valid(...LOOKS).required(),
  ink: Joi.number().min(0).max(HEAVIEST_INK).required(),
  background: Joi.valid(...BACKGROUNDS).required(),
  colour: Joi.string().pattern(COLOUR).required(),
});
