'use client';
import { Heading, Stack, Text } from '@chakra-ui/react';
import { useState } from 'react';
import { api } from '../api';
import { Card, Field, QuietButton, Trouble } from '../controls';
import { Tick } from '../tick';
import { useCheckedForm } from '../forms/use-checked-form';

/** Changes the password; every other browser that is signed in has to sign in again. */
export function Password() {
  const [changed, setChanged] = useState(false);
  const [endsTokens, setEndsTokens] = useState(false);
  const { form, formProps, field, trouble } = useCheckedForm<{ present: string; next: string }>(
    async () => (await import('@/core/forms/password-schema')).passwordSchema,
    {},
    async (values) => {
      setChanged(false);
      await api.post('/api/password', { ...values, endsTokens });
      setEndsTokens(false);
      form.reset();
      setChanged(true);
    },
  );
  return (
    <Card as="section" p="5" aria-label="Password">
      <Heading as="h2" fontSize="lg" mb="3">
        Password
      </Heading>
      <form {...formProps}>
        <Stack gap="3">
          <Field label="Present password" type="password" autoComplete="current-password" {...field('present')} />
          <Field
            label="New password"
            type="password"
            autoComplete="new-password"
            maxLength={128}
            hint="At least twelve characters, such as a few words that do not belong together. Other browsers have to sign in again."
            {...field('next')}
          />
          <Tick checked={endsTokens} onTick={setEndsTokens}>
            End my access tokens as well
          </Tick>
          <Trouble text={trouble} />
          <QuietButton type="submit" alignSelf="start">
            Change password
          </QuietButton>
          <Text role="status" fontSize="sm">
            {changed ? 'The password is changed.' : ''}
          </Text>
        </Stack>
      </form>
    </Card>
  );
}
