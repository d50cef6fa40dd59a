import type { ReviewSession } from '../../session';
import type { Tool } from '../tool';
import { LightTray } from './light-tray';

export const Tray = LightTray;

/** A tap names the place whose hours of sun are asked for. */
export const taker: Tool['taker'] = (session: ReviewSession) => ({
  tap: ({ x, y }) => {
    if (session.store.getState().picking !== 'sun') return false;
    session.act(async () => {
      const { stage } = session;
      const hit = stage && (await stage.surfaces.exactHit(stage.rig.ray(x, y), { throughGlass: true }));
      if (hit) session.store.setState({ picking: null, sunPlace: { point: hit.point, normal: hit.normal } });
    });
    return true;
  },
});
