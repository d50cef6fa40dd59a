import { useEffect, useRef, useState } from 'react';
import { useSession } from '../session-context';
import { levelAt, type Level } from './levels';

/** Metres below the eyes at which one looks which storey that is. */
const EYES = 0.5;

/** The storey that is shown: the one that the eyes are on, until another one is chosen. */
export function useLevelOfEyes(levels: Level[] | null) {
  const session = useSession();
  const [at, setAt] = useState(0);
  const followed = useRef(-1);
  useEffect(() => {
    if (!levels || levels.length === 0) return;
    const follow = () => {
      const height = session.stage?.rig.pose.position[2];
      if (height === undefined) return;
      const { gait } = session.store.getState();
      // From high above one looks at the whole: the plan stays what it was.
      const highest = levels[levels.length - 1]!.floor + 4;
      const own = gait || height < highest ? levelAt(levels, height - EYES) : followed.current;
      if (own === followed.current || own < 0) return;
      followed.current = own;
      setAt(own);
    };
    follow();
    return session.onFrame(follow);
  }, [session, levels]);
  const highest = Math.max(0, (levels?.length ?? 1) - 1);
  const onStep = (by: 1 | -1) => setAt((now) => Math.min(highest, Math.max(0, now + by)));
  return { at: Math.min(at, highest), onChoose: setAt, onStep };
}
