import { useStore } from 'zustand';
import { RESOLUTIONS, type Resolution } from '@/stage/resolution';
import { keptStore } from './kept-store';

export const RESOLUTION_WORDS: Record<Resolution, string> = {
  usual: 'Resolution: as fits the device',
  full: 'Resolution: every pixel, always',
  half: 'Resolution: half, for slow devices',
};

/** How finely this device draws; kept in the browser. */
export const resolutionStore = keptStore<{ resolution: Resolution }>('resolution', { resolution: 'usual' }, (kept) => ({
  resolution: RESOLUTIONS.find((one) => one === kept.resolution) ?? 'usual',
}));

export function useResolution(): Resolution {
  return useStore(resolutionStore, ({ resolution }) => resolution);
}
