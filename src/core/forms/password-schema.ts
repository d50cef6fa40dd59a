import Joi from 'joi';
import { typedText } from './typed-text-schema';

/** A change of one's own password. */
export const passwordSchema = Joi.object<{ present: string; next: string }>({
  present: typedText(128, 'the present password'),
  next: typedText(128, 'the new password')
    .min(8)
    .messages({ 'string.min': 'the new password has fewer than eight letters' }),
});
