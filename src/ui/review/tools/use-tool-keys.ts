'use client';
import { useEffect } from 'react';
import type { ReviewSession } from '../session';
import { toolsFor } from './registry';

const WRITING = 'input, textarea, select, [contenteditable]';

/** The keys that mean the same wherever one is on the page, except while one writes. */
export function useToolKeys(session: ReviewSession): void {
  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if (event.target instanceof HTMLElement && event.target.matches(WRITING)) return;
      const key = event.key.toLowerCase();
      if (event.ctrlKey || event.metaKey) {
        const isRedo = (key === 'z' && event.shiftKey) || key === 'y';
        if (key !== 'z' && !isRedo) return;
        event.preventDefault();
        if (isRedo) session.view.redo();
        else session.view.undo();
        return;
      }
      if (event.altKey) return;
      if (key === 'p') session.store.setState({ pictures: true });
      if (key === 'q') session.store.setState({ quiet: !session.store.getState().quiet });
      if (key === '?') session.store.setState({ help: !session.store.getState().help });
      if (key === 'w') session.view.showWhole();
      // Also what the small hand-helds of speakers send.
      if (key === 'pagedown') session.view.stepViewpoint(1);
      if (key === 'pageup') session.view.stepViewpoint(-1);
      if (key === 'b') session.moving.step(-1);
      if (key === 'n') session.moving.step(1);
      const tool = toolsFor(session.start.rights).find((one) => one.key === key);
      if (tool) session.setTool(tool.name);
    };
    window.addEventListener('keydown', onKey);
    return () => window.removeEventListener('keydown', onKey);
  }, [session]);
}
