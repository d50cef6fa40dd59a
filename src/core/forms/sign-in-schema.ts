import Joi from 'joi';
import { typedText } from './typed-text-schema';

/** What somebody with an account signs in with. */
export const signInSchema = Joi.object<{ email: string; password: string }>({
  email: typedText(320, 'the e-mail address'),
  password: typedText(128, 'the password'),
});
