'use client';
import { format } from 'date-fns';
import { useSyncExternalStore } from 'react';

const SHOWN = { time: 'HH:mm', day: 'd MMM yyyy', both: 'd MMM yyyy, HH:mm' };

/** The same as a text, for sentences that are only ever put together in the browser. */
export function timeText(at: string, show: keyof typeof SHOWN = 'both'): string {
  return format(at, SHOWN[show]);
}

interface TimeProps {
  /** ISO 8601, UTC. */
  at: string;
  show?: keyof typeof SHOWN;
}

/** A moment in the reader's own time zone, which only their browser knows: until it speaks, the place stays empty. */
export function Time({ at, show = 'both' }: TimeProps) {
  const isInBrowser = useSyncExternalStore(
    () => () => undefined,
    () => true,
    () => false,
  );
  return (
    <time dateTime={at} title={isInBrowser ? format(at, SHOWN.both) : undefined}>
      {isInBrowser ? format(at, SHOWN[show]) : ''}
    </time>
  );
}
