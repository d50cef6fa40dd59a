'use client';
import { Stack } from '@chakra-ui/react';
import { useEffect, useState, type FormEvent } from 'react';
import { api, messageOf } from '../api';
import { Field, PrimaryButton, Trouble } from '../controls';

/** A guest gives a name, and the code where no link brought them. */
export function GuestForm({ token }: { token?: string }) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  // What comes next is on its way while one writes.
  useEffect(() => void import('@/stage/stage'), []);
  const submit = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    const name = String(form.get('name')).trim();
    const code = String(form.get('code') ?? '').replace(/\D/g, '');
    if (!token && code.length !== 6) return setTrouble('A meeting code has six digits, such as 482 917.');
    setBusy(true);
    setTrouble(null);
    try {
      const { projectId } = await api.post<{ projectId: string }>(
        '/api/enter',
        token ? { name, token } : { name, code },
      );
      location.assign(`/projects/${projectId}/review`);
    } catch (error) {
      setBusy(false);
      setTrouble(messageOf(error));
    }
  };
  return (
    <form onSubmit={submit}>
      <Stack gap="4">
        {token ? null : (
          <Field
            label="Meeting code"
            name="code"
            inputMode="numeric"
            autoComplete="one-time-code"
            placeholder="000 000"
            fontSize="xl"
            letterSpacing="0.12em"
            required
            maxLength={9}
          />
        )}
        <Field
          label="Your name"
          name="name"
          autoComplete="name"
          required
          maxLength={60}
          hint="The others see it beside what you say."
        />
        <Trouble text={trouble} />
        <PrimaryButton type="submit" loading={busy}>
          Come in
        </PrimaryButton>
      </Stack>
    </form>
  );
}
