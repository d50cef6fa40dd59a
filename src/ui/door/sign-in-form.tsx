'use client';
import { Link, Stack } from '@chakra-ui/react';
import NextLink from 'next/link';
import { useState, type FormEvent } from 'react';
import { api, Refusal } from '../api';
import { Field, PrimaryButton, Trouble } from '../controls';

export function SignInForm() {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    setBusy(true);
    setTrouble(null);
    try {
      await api.post('/api/auth/sign-in/email', { email: form.get('email'), password: form.get('password') });
      location.assign('/projects');
    } catch (error) {
      setBusy(false);
      const status = error instanceof Refusal ? error.status : 0;
      setTrouble(
        status === 401 || status === 400
          ? 'E-mail and password do not fit together. Check both and try again.'
          : status === 429
            ? 'Too many tries. Wait a minute and try again.'
            : 'The server does not answer. Check the connection and try again.',
      );
    }
  };
  return (
    <form onSubmit={submit}>
      <Stack gap="4">
        <Field label="E-mail" name="email" type="email" autoComplete="username" required />
        <Field label="Password" name="password" type="password" autoComplete="current-password" required />
        <Trouble text={trouble} />
        <PrimaryButton type="submit" loading={busy}>
          Sign in
        </PrimaryButton>
        <Link asChild color="indigo" fontWeight="bold" textDecoration="underline">
          <NextLink href="/join">I have a meeting code</NextLink>
        </Link>
      </Stack>
    </form>
  );
}
