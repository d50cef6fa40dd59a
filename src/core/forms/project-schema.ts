import Joi from 'joi';
import { typedText } from './typed-text-schema';

/** A new project. */
export const projectSchema = Joi.object<{ name: string; place: string }>({
  name: typedText(120, 'the name'),
  place: Joi.string().allow('').max(120).default('').label('the place'),
});
