'use client';
import { Heading, Stack, Text } from '@chakra-ui/react';
import { useState, type FormEvent } from 'react';
import { api, messageOf } from '../api';
import { Card, Field, QuietButton, Trouble } from '../controls';

/** Changes the password; every other browser that is signed in has to sign in again. */
export function Password() {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [changed, setChanged] = useState(false);
  const change = async (event: FormEvent<HTMLFormElement>) => {
    event.preventDefault();
    const element = event.currentTarget;
    const form = new FormData(element);
    setTrouble(null);
    setChanged(false);
    try {
      await api.post('/api/password', { present: String(form.get('present')), next: String(form.get('next')) });
      element.reset();
      setChanged(true);
    } catch (error) {
      setTrouble(messageOf(error));
    }
  };
  return (
    <Card as="section" p="5" aria-label="Password">
      <Heading as="h2" fontSize="lg" mb="3">
        Password
      </Heading>
      <form onSubmit={change}>
        <Stack gap="3">
          <Field label="Present password" name="present" type="password" autoComplete="current-password" required />
          <Field
            label="New password"
            name="next"
            type="password"
            autoComplete="new-password"
            minLength={8}
            maxLength={128}
            required
            hint="At least eight characters. Other browsers have to sign in again."
          />
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
