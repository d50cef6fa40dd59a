import type { Drag, PointerTaker, Press } from '@/stage/input/pointer-taker';
import type { PlaceAt } from '@/stage/surfaces/snapping';
import type { HeldAxis, Measuring } from './measuring';
import type { Pointable } from './pointable';

/** Pixels within which something is meant. */
const REACH = { mouse: 10, pen: 12, touch: 20 };
/** A finger that rests for so long in the loupe holds the nearest axis, or lets go of it. */
const HOLD_MS = 800;
/** Pixels by which a finger may move while it rests. */
const STILL = 5;

/**
 * Names places: by taps, by a finger that rests and then looks through a loupe, or by keys in the middle of the picture.
 *
 * @param act does something that may fail
 */
export function aimingTaker(
  measuring: Measuring,
  pointable: Pointable,
  act: (work: () => Promise<void>) => void,
): PointerTaker {
  const aiming = new Aiming(measuring, pointable, act);
  return {
    hover: (press) => {
      aiming.hover(press);
      return false; // the others may still see where one points
    },
    tap: (press) => {
      const card = measuring.from ? null : pointable.cardAt(press);
      if (card) measuring.choose(card);
      else act(() => aiming.take(press, heldBy(press)));
      return true;
    },
    doubleTap: () => {
      measuring.finish();
      return true;
    },
    longPress: (press) => (press.kind === 'mouse' ? false : aiming.throughLoupe(press)),
    key: (event) => aiming.key(event),
  };
}

/** Shift holds the nearest axis. */
function heldBy(press: Press): HeldAxis | null {
  return press.shift ? 'nearest' : null;
}

class Aiming {
  private queued: Press | null = null;
  /** Counts up with every place that is pointed at: an answer that comes late is dropped. */
  private turn = 0;
  private taken: Promise<void> = Promise.resolve();

  constructor(
    private readonly measuring: Measuring,
    private readonly pointable: Pointable,
    private readonly act: (work: () => Promise<void>) => void,
  ) {}

  hover(press: Press | null): void {
    this.turn++;
    if (!press) {
      this.queued = null;
      this.letGo();
      return;
    }
    // One search a frame at most, however fast the mouse reports.
    const isIdle = this.queued === null;
    this.queued = press;
    if (isIdle)
      requestAnimationFrame(() => {
        const { queued } = this;
        this.queued = null;
        if (queued) this.point(queued, heldBy(queued));
      });
  }

  /** Takes what is under a press, at full detail; one after the other, also where the first has to wait for it. */
  take(press: Press, held: HeldAxis | null): Promise<void> {
    this.queued = null;
    this.turn++;
    const taken = this.taken.then(async () => {
      let place = this.look(press, held, false);
      if (place?.about) {
        await this.pointable.sharpen(press);
        place = this.look(press, held, false);
      }
      this.pointable.showAim(null);
      if (place) await this.measuring.take(place);
    });
    // One that failed is told to whoever asked, and does not hold up the next.
    this.taken = taken.catch(() => undefined);
    return taken;
  }

  /** A finger rested: it looks through a loupe until it lets go. */
  throughLoupe(press: Press): Drag {
    let now = press;
    let axis: HeldAxis | null = null;
    let restedAt = press;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const show = () => this.point(now, axis, true);
    show();
    return {
      move: (_, moved) => {
        now = moved;
        if (Math.hypot(moved.x - restedAt.x, moved.y - restedAt.y) > STILL) {
          restedAt = moved;
          clearTimeout(timer);
          timer = setTimeout(() => {
            if (!this.measuring.from) return;
            axis = axis ? null : 'nearest';
            show();
          }, HOLD_MS);
        }
        show();
      },
      end: (cancelled) => {
        clearTimeout(timer);
        if (cancelled) this.letGo();
        else this.act(() => this.take(now, axis));
      },
    };
  }

  key({ key, shiftKey, ctrlKey, metaKey, altKey }: KeyboardEvent): boolean {
    if (ctrlKey || metaKey || altKey) return false;
    const { measuring } = this;
    switch (key) {
      case 'Enter':
        if (shiftKey) measuring.finish();
        // With keys one points at the middle, to which the arrow keys bring what one means.
        else this.act(() => this.take(this.pointable.middle(), null));
        return true;
      case 'Escape':
        this.pointable.showAim(null);
        return measuring.abandon();
      case 'Backspace':
        measuring.back();
        return true;
      case 'x':
      case 'y':
      case 'z':
        measuring.hold(key);
        return true;
      default:
        // The camera is about to move: what will be in the middle then is shown.
        if (key.startsWith('Arrow') || '+-='.includes(key))
          requestAnimationFrame(() => this.point(this.pointable.middle(), null));
        return false;
    }
  }

  private letGo(): void {
    this.measuring.letGo();
    this.pointable.showAim(null);
  }

  private point(press: Press, held: HeldAxis | null, isCovered = false): PlaceAt | null {
    const aimed = this.look(press, held, isCovered);
    if (aimed?.about) {
      // What is exactly there is loaded, and said if one still points there.
      const { turn } = this;
      this.act(async () => {
        await this.pointable.sharpen(press);
        if (turn === this.turn) this.look(press, held, isCovered);
      });
    }
    return aimed;
  }

  private look(press: Press, held: HeldAxis | null, isCovered: boolean): PlaceAt | null {
    const { kinds } = this.measuring.hand.getState();
    const place = this.pointable.placeAt(press, kinds, REACH[press.kind], this.measuring.from);
    const aimed = this.measuring.aim(place, this.pointable.sight(press), held);
    this.pointable.showAim(aimed && { point: aimed.place.point, kind: aimed.place.kind, word: aimed.word, isCovered });
    return aimed?.place ?? null;
  }
}
