import Joi from 'joi';
import { MIN_PASSWORD } from './password-length';
import { typedText } from './typed-text-schema';

/** A change of one's own password. */
export const passwordSchema = Joi.object<{ present: string; next: string; endsTokens?: boolean }>({
  present: typedText(128, 'the present password'),
  next: typedText(128, 'the new password')
    .min(MIN_PASSWORD)
    .messages({ 'string.min': `the new password has fewer than ${MIN_PASSWORD} letters` }),
  // Whether access tokens end with the old password.
  endsTokens: Joi.boolean().default(false),
});
