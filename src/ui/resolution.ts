import { createStore, useStore } from 'zustand';
import { createJSONStorage, persist } from 'zustand/middleware';

export const RESOLUTIONS = ['usual', 'full', 'half'] as const;
export type Resolution = (typeof RESOLUTIONS)[number];

export const RESOLUTION_WORDS: Record<Resolution, string> = {
  usual: 'Resolution: as fits the device',
  full: 'Resolution: every pixel, always',
  half: 'Resolution: half, for slow devices',
};

/** How finely this device draws; kept in the browser. */
export const resolutionStore = createStore<{ resolution: Resolution }>()(
  persist(() => ({ resolution: 'usual' as Resolution }), {
    name: 'yurta.resolution',
    storage: createJSONStorage(() => localStorage),
    skipHydration: typeof window === 'undefined',
    merge: (stored) => {
      const kept = (stored as { resolution?: unknown } | null)?.resolution;
      return { resolution: RESOLUTIONS.find((one) => one === kept) ?? 'usual' };
    },
  }),
);

export function useResolution(): Resolution {
  return useStore(resolutionStore, ({ resolution }) => resolution);
}
