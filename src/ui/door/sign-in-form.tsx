'use client';
import { Link, Stack } from '@chakra-ui/react';
import NextLink from 'next/link';
import { api, Refusal } from '../api';
import { Field, PrimaryButton, Trouble } from '../controls';
import { useCheckedForm } from '../forms/use-checked-form';

export function SignInForm() {
  const { formProps, field, trouble, isSubmitting } = useCheckedForm<{ email: string; password: string }>(
    async () => (await import('@/core/forms/sign-in-schema')).signInSchema,
    {},
    async (values) => {
      try {
        await api.post('/api/auth/sign-in/email', values);
      } catch (error) {
        // A wrong password is told in words of our own; how long one has to wait, the server knows.
        if (error instanceof Refusal && [400, 401].includes(error.status))
          throw new Error('E-mail and password do not fit together. Check both and try again.');
        throw error;
      }
      location.assign('/projects');
    },
  );
  return (
    <form {...formProps}>
      <Stack gap="4">
        <Field label="E-mail" type="email" autoComplete="username" {...field('email')} />
        <Field label="Password" type="password" autoComplete="current-password" {...field('password')} />
        <Trouble text={trouble} />
        <PrimaryButton type="submit" loading={isSubmitting}>
          Sign in
        </PrimaryButton>
        <Link asChild color="indigo" fontWeight="bold" textDecoration="underline">
          <NextLink href="/join">I have a meeting code</NextLink>
        </Link>
      </Stack>
    </form>
  );
}
