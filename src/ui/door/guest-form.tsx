'use client';
import { Stack } from '@chakra-ui/react';
import { useEffect } from 'react';
import { digitsOf, guestFaults, type GuestForm as GuestValues } from '@/core/forms/guest';
import { api } from '../api';
import { Field, PrimaryButton, Trouble } from '../controls';
import { useCheckedForm } from '../forms/use-checked-form';
import { behindDoor, type Wanted } from './behind-door';

/** A guest gives a name; the code where no link brought them; the passphrase where the link has one. */
export function GuestForm({
  token,
  wanted = {},
  asksPassphrase = false,
}: {
  token?: string;
  wanted?: Wanted;
  asksPassphrase?: boolean;
}) {
  const { formProps, field, trouble, isSubmitting } = useCheckedForm<GuestValues>(
    { faults: (values) => guestFaults(values, token === undefined) },
    {},
    async ({ name, code = '', passphrase = '', email = '' }) => {
      const by = token === undefined ? { code: digitsOf(code) } : { token, passphrase };
      const { projectId, viewpointId } = await api.post<{ projectId: string; viewpointId: string | null }>(
        '/api/enter',
        {
          name: name.trim(),
          email: email.trim(),
          ...by,
        },
      );
      location.assign(behindDoor(projectId, viewpointId, wanted));
    },
  );
  // What comes next is on its way while one writes.
  useEffect(() => void import('@/stage/stage'), []);
  return (
    <form {...formProps}>
      <Stack gap="4">
        {token === undefined ? (
          <Field
            label="Meeting code"
            inputMode="numeric"
            autoComplete="one-time-code"
            placeholder="000 000"
            fontSize="xl"
            letterSpacing="0.12em"
            maxLength={9}
            {...field('code')}
          />
        ) : null}
        <Field
          label="Your name"
          autoComplete="name"
          maxLength={60}
          hint="The others see it beside what you say."
          {...field('name')}
        />
        <Field
          label="E-mail"
          type="email"
          autoComplete="email"
          placeholder="none"
          maxLength={200}
          hint="Only if you want the minutes afterwards."
          {...field('email')}
        />
        {asksPassphrase ? (
          <Field
            label="Passphrase"
            autoComplete="off"
            maxLength={80}
            hint="You got it from whoever sent the link. Capitals do not matter."
            {...field('passphrase')}
          />
        ) : null}
        <Trouble text={trouble} />
        <PrimaryButton type="submit" loading={isSubmitting}>
          Come in
        </PrimaryButton>
      </Stack>
    </form>
  );
}
