import Joi from 'joi';
import { TOKEN_RIGHTS, type TokenRight } from '../rights';
import { typedText } from './typed-text-schema';

/** A new access token. */
export const tokenSchema = Joi.object<{ label: string; right: TokenRight }>({
  label: typedText(80, 'what it is for'),
  right: Joi.valid(...TOKEN_RIGHTS).required(),
});
