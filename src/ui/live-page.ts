'use client';
import { useEffect } from 'react';
import { messageOf } from './api';
import { Live } from './live';

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
 * Calls `reload` when a project changed elsewhere, and after every reconnection, when something may have been missed.
 *
 * @param event what to listen for, such as `models-changed`
 * @param onTrouble what the server refused, in its words
 */
export function useLiveProject(
  projectId: string,
  event: 'models-changed' | 'comments-changed',
  reload: () => void,
  onTrouble: (text: string) => void,
): void {
  useLiveProjects(projectId, event, reload, onTrouble);
}

/** The same for several projects. @param projectIds their ids, joined by blanks */
export function useLiveProjects(
  projectIds: string,
  event: 'models-changed' | 'comments-changed',
  reload: () => void,
  onTrouble: (text: string) => void,
): void {
  useEffect(() => {
    const live = holdLive();
    const ends = [
      live.onConnect(() => {
        const ids = projectIds.split(' ').filter((id) => id !== '');
        Promise.all(ids.map((id) => live.ask('watch', { id }))).then(reload, (error: unknown) =>
          onTrouble(messageOf(error)),
        );
      }),
      live.on(event, reload),
    ];
    return () => {
      ends.forEach((end) => end());
      letGoOfLive();
    };
  }, [projectIds, event, reload, onTrouble]);
}

/** Calls `reload` when there is something new for this account, and after every reconnection. */
export function useLiveNotices(reload: () => void): void {
  useEffect(() => {
    const live = holdLive();
    const ends = [live.onConnect(reload), live.on('notices-changed', reload)];
    return () => {
      ends.forEach((end) => end());
      letGoOfLive();
    };
  }, [reload]);
}
