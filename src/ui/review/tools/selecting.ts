import { whereElements } from '@/core/elements/element-set';
import type { PointerTaker } from '@/stage/input/pointer-taker';
import type { ReviewSession } from '../session';

/** What taps mean whenever the tool in hand does not take them: one selects, two fly there. Pointers show to the others. */
export function selecting(session: ReviewSession): PointerTaker {
  let queued: { x: number; y: number } | null = null;
  return {
    tap: ({ x, y }) => {
      const hit = session.stage?.pick(x, y) ?? null;
      session.view.select(hit ? whereElements([hit.element]) : []);
      if (hit && session.store.getState().drawer === 'contents') session.store.setState({ drawer: 'facts' });
      return true;
    },
    doubleTap: ({ x, y }) => {
      const hit = session.stage?.pick(x, y);
      if (hit) session.view.flyTo(whereElements([hit.element]));
      return true;
    },
    hover: (press) => {
      // Nobody looks where one points outside of a meeting.
      if (!session.meeting.isMeeting) return true;
      if (!press) {
        queued = null;
        session.meeting.pointed(null);
        return true;
      }
      // One search a frame at most, however fast the mouse reports.
      const isIdle = queued === null;
      queued = { x: press.x, y: press.y };
      if (isIdle)
        requestAnimationFrame(() => {
          if (queued) session.meeting.pointed(session.stage?.pick(queued.x, queued.y)?.point ?? null);
          queued = null;
        });
      return true;
    },
  };
}
