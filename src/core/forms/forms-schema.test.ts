import type Joi from 'joi';
import { describe, expect, it } from 'vitest';
import { linkSchema } from './link-schema';
import { commentTextSchema, nameSchema } from './name-schema';
import { passwordSchema } from './password-schema';
import { projectSchema } from './project-schema';
import { signInSchema } from './sign-in-schema';
import { tokenSchema } from './token-schema';

const faults = (schema: Joi.ObjectSchema, value: object) =>
  schema.validate(value, { abortEarly: false }).error?.details.map(({ message }) => message.replaceAll('"', '')) ?? [];

describe('what is typed into a form', () => {
  it('is told of in words when it is missing, blank or too long', () => {
    expect(faults(signInSchema, { email: '', password: ' ' })).toEqual([
      'the e-mail address is missing',
      'the password is missing',
    ]);
    expect(faults(nameSchema, {})).toEqual(['the name is missing']);
    expect(faults(nameSchema, { name: 'x'.repeat(121) })).toEqual(['the name is longer than 120 characters']);
    expect(faults(commentTextSchema, { text: '\n\t' })).toEqual(['the comment is missing']);
    expect(faults(passwordSchema, { present: 'old', next: 'short' })).toEqual([
      'the new password has fewer than 12 letters',
    ]);
  });

  it('is taken as it is when it is right', () => {
    expect(faults(projectSchema, { name: 'Library' })).toEqual([]);
    expect(faults(tokenSchema, { label: 'Nightly', right: 'publish' })).toEqual([]);
    expect(faults(tokenSchema, { label: 'Nightly', right: 'everything' })).toHaveLength(1);
    expect(faults(linkSchema, { label: '<b>', right: 'look' })).toEqual([]);
  });
});
