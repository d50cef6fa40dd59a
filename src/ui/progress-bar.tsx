'use client';
import { Progress } from '@chakra-ui/react';

export function ProgressBar({ share, label }: { share: number; label: string }) {
  return (
    <Progress.Root value={Math.round(share * 100)} mt="2" size="sm">
      <Progress.Track bg="felt" aria-label={label}>
        <Progress.Range bg="madder" />
      </Progress.Track>
    </Progress.Root>
  );
}
