import type { ReviewSession } from '../../session';
import type { Tool } from '../tool';
import { MoveTray } from './move-tray';

export const Tray = MoveTray;

/** A tap names where to stand; a drag draws the window to zoom to. Otherwise hands turn about the model. */
export const taker: Tool['taker'] = (session: ReviewSession) => ({
  press: (press) => {
    if (session.store.getState().picking !== 'window') return null;
    const from = { x: press.x, y: press.y };
    let to = from;
    return {
      move: (_, moved) => {
        to = { x: moved.x, y: moved.y };
        session.store.setState({ window: { from, to } });
      },
      end: (isCancelled) => {
        session.store.setState({ window: null, picking: null });
        if (!isCancelled) session.moving.zoomTo(from, to);
      },
    };
  },
  tap: ({ x, y }) => {
    if (session.store.getState().picking !== 'stand') return false;
    session.act(async () => {
      if (await session.moving.standAt(x, y)) session.store.setState({ picking: null });
    });
    return true;
  },
});
