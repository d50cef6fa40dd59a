'use client';
import { api } from '../api';
import { QuietButton } from '../pieces';

export function SignOut({ name }: { name: string }) {
  return (
    <QuietButton
      size="sm"
      onClick={async () => {
        await api.post('/api/auth/sign-out', {});
        location.assign('/sign-in');
      }}
      title={`Signed in as ${name}`}
    >
      Sign out
    </QuietButton>
  );
}
