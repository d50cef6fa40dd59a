'use client';
import { Stack } from '@chakra-ui/react';
import { useEffect } from 'react';
import { digitsOf, guestFaults, type GuestForm as GuestValues } from '@/core/forms/guest';
import { api } from '../api';
import { Field, PrimaryButton, Trouble } from '../controls';
import { useCheckedForm } from '../forms/use-checked-form';

/** A guest gives a name, and the code where no link brought them. */
export function GuestForm({ token }: { token?: string }) {
  const { formProps, field, trouble, isSubmitting } = useCheckedForm<GuestValues>(
    { faults: (values) => guestFaults(values, token === undefined) },
    {},
    async ({ name, code = '' }) => {
      const by = token === undefined ? { code: digitsOf(code) } : { token };
      const { projectId } = await api.post<{ projectId: string }>('/api/enter', { name: name.trim(), ...by });
      location.assign(`/projects/${projectId}/review`);
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
        <Trouble text={trouble} />
        <PrimaryButton type="submit" loading={isSubmitting}>
          Come in
        </PrimaryButton>
      </Stack>
    </form>
  );
}
