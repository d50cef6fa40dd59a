import { useSyncExternalStore } from 'react';
import { flatSection, type FlatSection } from '@/stage/features/cuts/flat-section';
import { useSession } from '../session-context';

/** The section in one face of a cut as a drawing; null until it is there. */
export function useFlatSection(face: string): FlatSection | null {
  const session = useSession();
  return useSyncExternalStore(
    (changed) => session.onFrame(changed),
    () => {
      const whole = session.stage?.sections.wholeSection(face);
      return whole ? flatSection(whole) : null;
    },
    () => null,
  );
}
