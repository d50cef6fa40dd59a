'use client';
import { Door } from '@/ui/door/door';
import { PrimaryButton } from '@/ui/controls';

export default function PageError({ reset }: { reset: () => void }) {
  return (
    <Door title="This page could not be shown" lead="The server had trouble answering. Nothing that was saved is lost.">
      <PrimaryButton onClick={reset}>Try again</PrimaryButton>
    </Door>
  );
}
