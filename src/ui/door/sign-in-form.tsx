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
        throw new Error(reasonOf(error));
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

function reasonOf(error: unknown): string {
  const status = error instanceof Refusal ? error.status : 0;
  if (status === 401 || status === 400) return 'E-mail and password do not fit together. Check both and try again.';
  if (status === 429) return 'Too many tries. Wait a minute and try again.';
  return 'The server does not answer. Check the connection and try again.';
}
