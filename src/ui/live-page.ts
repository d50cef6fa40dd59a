'use client';
import { useCallback, useEffect, useMemo } from 'react';
import { messageOf } from './api';
import { Live } from './live';
import { oneAtATime } from './one-at-a-time';

type ProjectEvent = 'models-changed' | 'jobs-changed' | 'comments-changed' | 'approvals-changed';

/** The one connection that all parts of a page share, kept as long as any of them listens. */
let shared: { live: Live; holders: number } | null = null;

function holdLive(): Live {
  shared ??= { live: new Live(), holders: 0 };
  shared.holders++;
  return shared.live;
}

function letGoOfLive(): void {
  if (!shared || --shared.holders > 0) return;
  shared.live.close();
  shared = null;
}

/**
 * Fetches anew what a page shows when a project changed elsewhere, and after every reconnection, when something may
 * have been missed: once at a time, because a publication says several times a second how far it is.
 *
 * @param projectId of one project, or of several, joined by blanks
 * @param events what to listen for, joined by blanks
 * @param fetchAnew fetches and keeps; the same function as long as it fetches the same
 * @param onTrouble what the server refused, in its words; the same function throughout
 * @returns fetches anew after what the page itself has changed
 */
export function useLiveProject(
  projectId: string,
  events: ProjectEvent | `${ProjectEvent} ${ProjectEvent}` | `${ProjectEvent} ${ProjectEvent} ${ProjectEvent}`,
  fetchAnew: () => Promise<void>,
  onTrouble: (text: string) => void,
): () => Promise<void> {
  const fetch = useMemo(() => oneAtATime(fetchAnew), [fetchAnew]);
  const reload = useCallback(() => fetch().catch((error: unknown) => onTrouble(messageOf(error))), [fetch, onTrouble]);
  useEffect(() => {
    const live = holdLive();
    const ends = [
      live.onConnect(async () => {
        const ids = projectId.split(' ').filter((id) => id !== '');
        await Promise.all(ids.map((id) => live.ask('watch', { id })));
        await fetch();
      }, onTrouble),
      ...events.split(' ').map((event) => live.on(event, reload)),
    ];
    return () => {
      ends.forEach((end) => end());
      letGoOfLive();
    };
  }, [projectId, events, fetch, reload, onTrouble]);
  return reload;
}

/** The same where there is something new for this account. @param fetchAnew keeps what it has where it fails */
export function useLiveNotices(fetchAnew: () => Promise<void>): () => Promise<void> {
  const reload = useMemo(() => oneAtATime(fetchAnew), [fetchAnew]);
  useEffect(() => {
    const live = holdLive();
    const ends = [live.onConnect(reload, () => undefined), live.on('notices-changed', reload)];
    return () => {
      ends.forEach((end) => end());
      letGoOfLive();
    };
  }, [reload]);
  return reload;
}
