import type { Vec3 } from '@/core/math/mat4';
import type { SnapKind } from '@/core/snap/choose-snap';
import type { Aim } from '@/stage/features/measures/measures';
import type { Press } from '@/stage/input/pointer-taker';
import type { PlaceAt } from '@/stage/surfaces/snapping';
import type { Stage } from '@/stage/stage';
import type { Sight } from './measuring';

/** Something on which places are pointed at: the model, or a flat drawing. */
export interface Pointable {
  /** What is meant by a press; null where nothing is. @param reach pixels within which something is meant */
  placeAt(press: Press, kinds: ReadonlySet<SnapKind>, reach: number, from: Vec3 | null): PlaceAt | null;
  sight(press: Press): Sight;
  showAim(aim: Aim | null): void;
  /** Loads what is needed to say exactly what is meant. */
  sharpen(press: Press): Promise<void>;
  /** The measure whose card lies under a press. */
  cardAt(press: Press): string | null;
  /** A press in the middle, for those who point with keys. */
  middle(): Press;
}

/** The model. */
export function stagePointable(stage: Stage): Pointable {
  return {
    placeAt: ({ x, y }, kinds, reach, from) => stage.placeAt(x, y, kinds, reach, from),
    sight: ({ x, y }) => {
      const { origin, direction } = stage.rig.ray(x, y);
      return { origin: stage.frame.toProject(origin), direction: direction.toArray() };
    },
    showAim: (mark) => stage.showAim(mark),
    sharpen: ({ x, y }) => stage.sharpen(x, y),
    cardAt: ({ x, y }) => stage.measureAt(x, y),
    middle: () => pressInMiddle(stage.bounds),
  };
}

export function pressInMiddle({ left, top, width, height }: DOMRect): Press {
  return { id: -1, x: left + width / 2, y: top + height / 2, kind: 'mouse', buttons: 0, shift: false, pressure: 0 };
}
