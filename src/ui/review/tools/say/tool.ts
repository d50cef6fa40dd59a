import type { ReviewSession } from '../../session';
import type { Tool } from '../tool';
import { SayTray } from './say-tray';

export const Tray = SayTray;

/** A tap names the place that is spoken of. */
export const taker: Tool['taker'] = (session: ReviewSession) => ({
  tap: ({ x, y }) => {
    const hit = session.stage?.pick(x, y);
    if (hit) session.store.setState({ draft: hit });
    return true;
  },
  doubleTap: () => true,
});
