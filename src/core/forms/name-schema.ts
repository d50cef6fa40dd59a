import Joi from 'joi';
import { typedText } from './typed-text-schema';

/** The name of something: a viewpoint, a model. */
export const nameSchema = Joi.object<{ name: string }>({ name: typedText(120, 'the name') });

/** The title of a meeting. */
export const titleSchema = Joi.object<{ title: string }>({ title: typedText(120, 'the title') });

/** What somebody says. */
export const commentTextSchema = Joi.object<{ text: string }>({ text: typedText(4000, 'the comment') });
