'use client';
import { useRouter } from 'next/navigation';
import { startTransition, useCallback, useEffect } from 'react';
import { Door } from '@/ui/door/door';
import { PrimaryButton } from '@/ui/controls';

const RETRY_MS = 4000;

export default function PageError({ reset }: { reset: () => void }) {
  const router = useRouter();
  const again = useCallback(
    () =>
      startTransition(() => {
        router.refresh();
        reset();
      }),
    [router, reset],
  );
  useEffect(() => {
    const timer = setInterval(again, RETRY_MS);
    return () => clearInterval(timer);
  }, [again]);
  return (
    <Door
      title="This page could not be shown"
      lead="The server had trouble answering. Nothing that was saved is lost. The page is asked for again every few seconds."
    >
      <PrimaryButton onClick={again}>Try again now</PrimaryButton>
    </Door>
  );
}
