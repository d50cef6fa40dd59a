'use client';
import { useEffect } from 'react';
import { messageOf } from './api';
import { Live } from './live';

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
  useEffect(() => {
    const live = new Live();
    live.onConnect(
      () => void live.ask('watch', { id: projectId }).then(reload, (error: unknown) => onTrouble(messageOf(error))),
    );
    live.on(event, reload);
    return () => live.close();
  }, [projectId, event, reload, onTrouble]);
}
