import type { Vec3 } from '@/core/math/mat4';
import type { Drag, Press } from '@/stage/input/pointer-taker';
import type { PlaceAt } from '@/stage/surfaces/snapping';
import type { ReviewSession } from '../../session';
import type { Tool } from '../tool';
import { MeasureTray } from './measure-tray';
import { measuringOf, type HeldAxis, type Measuring } from './measuring';

export const Tray = MeasureTray;

/** Pixels within which something is meant. */
const REACH = { mouse: 10, pen: 12, touch: 20 };
/** A finger that rests for so long in the loupe holds the nearest axis, or lets go of it. */
const HOLD_MS = 800;
/** Pixels by which a finger may move while it rests. */
const STILL = 5;

/** Places are named by taps, by a finger that rests and then looks through a loupe, or by keys in the middle of the picture. */
export const taker: Tool['taker'] = (session: ReviewSession) => {
  const measuring = measuringOf(session);
  const aiming = new Aiming(session, measuring);
  return {
    hover: (press) => {
      aiming.hover(press);
      return false; // the others may still see where one points
    },
    tap: (press) => {
      const card = measuring.from ? null : session.stage?.measures.cardAt(...aiming.onStage(press));
      if (card) measuring.choose(card);
      else session.act(() => aiming.take(press, press.shift ? 'nearest' : null));
      return true;
    },
    doubleTap: () => {
      measuring.finish();
      return true;
    },
    longPress: (press) => (press.kind === 'mouse' ? false : aiming.throughLoupe(press)),
    key: (event) => aiming.key(event),
  };
};

/** Where a hand points, and what is there. */
class Aiming {
  private queued: Press | null = null;
  /** Counts up with every place that is pointed at: an answer that comes late is dropped. */
  private turn = 0;

  constructor(
    private readonly session: ReviewSession,
    private readonly measuring: Measuring,
  ) {}

  onStage({ x, y }: Press): [number, number] {
    const bounds = document.querySelector('[role=application]')!.getBoundingClientRect();
    return [x - bounds.left, y - bounds.top];
  }

  hover(press: Press | null): void {
    this.turn++;
    if (!press) {
      this.queued = null;
      this.point(null, null);
      return;
    }
    // One search a frame at most, however fast the mouse reports.
    const isIdle = this.queued === null;
    this.queued = press;
    if (isIdle)
      requestAnimationFrame(() => {
        const { queued } = this;
        this.queued = null;
        if (queued) this.point(queued, queued.shift ? 'nearest' : null);
      });
  }

  /** Takes what is under a press, at full detail. */
  async take(press: Press, held: HeldAxis | null): Promise<void> {
    const { stage } = this.session;
    this.queued = null;
    const turn = ++this.turn;
    let place = this.point(press, held);
    if (place?.about && stage) {
      // The finest surfaces are on their way.
      await stage.surfaces.exactHit(stage.rig.ray(press.x, press.y));
      if (turn !== this.turn) return;
      place = this.point(press, held);
    }
    stage?.showMark(null);
    if (place) await this.measuring.take(place);
  }

  /** A finger rested: it looks through a loupe until it lets go. */
  throughLoupe(press: Press): Drag {
    let now = press;
    let axis: HeldAxis | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let restedAt = press;
    const show = () => this.point(now, axis, true);
    const rest = () => {
      clearTimeout(timer);
      timer = setTimeout(() => {
        if (!this.measuring.from) return;
        axis = axis ? null : 'nearest';
        show();
      }, HOLD_MS);
    };
    show();
    return {
      fingers: (fingers) => {
        now = fingers[0] ?? now;
      },
      move: (_, moved) => {
        now = moved;
        if (Math.hypot(moved.x - restedAt.x, moved.y - restedAt.y) > STILL) {
          restedAt = moved;
          rest();
        }
        show();
      },
      end: (cancelled) => {
        clearTimeout(timer);
        if (cancelled) this.point(null, null);
        else this.session.act(() => this.take(now, axis));
      },
    };
  }

  key({ key, shiftKey, ctrlKey, metaKey, altKey }: KeyboardEvent): boolean {
    if (ctrlKey || metaKey || altKey) return false;
    const { measuring } = this;
    switch (key) {
      case 'Enter':
        if (shiftKey) measuring.finish();
        else this.session.act(() => this.take(this.middle(), null));
        return true;
      case 'Escape':
        this.session.stage?.showMark(null);
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
        return false;
    }
  }

  /** With keys one points at the middle of the picture, to which the arrow keys bring what one means. */
  private middle(): Press {
    const { left, top, width, height } = document.querySelector('[role=application]')!.getBoundingClientRect();
    return { id: -1, x: left + width / 2, y: top + height / 2, kind: 'mouse', buttons: 0, shift: false, pressure: 0 };
  }

  /** @param isFirst whether nothing was loaded for it yet */
  private point(press: Press | null, held: HeldAxis | null, isCovered = false, isFirst = true): PlaceAt | null {
    const { stage } = this.session;
    if (!stage) return null;
    if (!press) {
      this.measuring.aim(null, NOWHERE, null);
      stage.showMark(null);
      return null;
    }
    const { kinds } = this.measuring.hand.getState();
    const place = stage.placeAt(press.x, press.y, kinds, REACH[press.kind], this.measuring.from);
    const { origin, direction } = stage.rig.ray(press.x, press.y);
    const sight = { origin: stage.frame.toProject(origin), direction: direction.toArray() as Vec3 };
    const aimed = this.measuring.aim(place, sight, held);
    stage.showMark(aimed && { point: aimed.place.point, kind: aimed.place.kind, word: aimed.word, isCovered });
    if (place?.about && isFirst) this.sharpen(press, held, isCovered);
    return aimed?.place ?? null;
  }

  /** Loads what is needed to say exactly what is pointed at, and says it if one still points there. */
  private sharpen(press: Press, held: HeldAxis | null, isCovered: boolean): void {
    const { stage } = this.session;
    const { turn } = this;
    this.session.act(async () => {
      await stage?.surfaces.exactHit(stage.rig.ray(press.x, press.y));
      if (turn === this.turn && this.session.stage === stage) this.point(press, held, isCovered, false);
    });
  }
}

const NOWHERE = { origin: [0, 0, 0] as Vec3, direction: [0, 0, 1] as Vec3 };
