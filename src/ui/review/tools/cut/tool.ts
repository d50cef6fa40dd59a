import type { ReviewSession } from '../../session';
import type { Tool } from '../tool';
import { CutTray } from './cut-tray';
import { Cutting } from './cutting';
import { dragHandle } from './dragging';

export const Tray = CutTray;

/** Handles are dragged; where a face or a room is asked for, a tap names it. */
export const taker: Tool['taker'] = (session: ReviewSession) => {
  const cutting = new Cutting(session);
  return {
    press: (press) => {
      const { stage } = session;
      const handle = stage?.cutHandleAt(press);
      if (!stage || !handle) return null;
      return dragHandle(handle, press, {
        cuts: cutting.cuts,
        rayAt: ({ x, y }) => {
          const { origin, direction } = stage.rig.ray(x, y);
          return { origin: stage.frame.toProject(origin), direction: direction.toArray() };
        },
        onMove: (cuts) => cutting.set(cuts, true),
        onEnd: (cuts) => cutting.set(cuts),
      });
    },
    tap: ({ x, y }) => {
      const { picking } = session.store.getState();
      if (picking !== 'face' && picking !== 'room') return false;
      session.act(async () => {
        const isDone = picking === 'face' ? await cutting.onFace(x, y) : await cutting.boxAroundRoom(x, y);
        if (isDone) session.store.setState({ picking: null });
      });
      return true;
    },
  };
};
