import { createStore, type StoreApi } from 'zustand';
import { createJSONStorage, persist } from 'zustand/middleware';

/**
 * What a person has set for themselves, kept in their browser.
 *
 * @param name what it is kept as, behind "yurta."
 * @param first what holds until something is set
 * @param read makes sense of what was kept, whatever stands there
 */
export function keptStore<T extends object>(
  name: string,
  first: T,
  read: (stored: Partial<Record<keyof T, unknown>>) => T,
): StoreApi<T> {
  return createStore<T>()(
    persist(() => first, {
      name: `yurta.${name}`,
      storage: createJSONStorage(() => localStorage),
      skipHydration: typeof window === 'undefined',
      merge: (stored) => read((stored ?? {}) as Partial<Record<keyof T, unknown>>),
    }),
  );
}
