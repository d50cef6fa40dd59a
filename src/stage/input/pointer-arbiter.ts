import type { Drag, PointerTaker, Press } from './pointer-taker';

/** A pointer that moves less than this has tapped. */
const TAP_PIXELS = 6;
const DOUBLE_TAP_MS = 350;
const DOUBLE_TAP_PIXELS = 24;
const LONG_PRESS_MS = 550;
const NOTCH = 240;

/**
 * Decides who gets what pointers and keys do on an element: handles first, then the tool, then the camera. A gesture belongs to
 * whoever took it until it ends.
 */
export class PointerArbiter {
  /** Parts of the picture that can be taken hold of. */
  readonly handles: PointerTaker[] = [];
  tool: PointerTaker | null = null;
  /** What is done with what the tool does not take, before the camera gets it. */
  readonly base: PointerTaker[] = [];
  private readonly down = new Map<number, Press>();
  private drag: Drag | null = null;
  private travelled = 0;
  /** Whether the gesture has become a drag, or a long press was taken: then it is no tap. */
  private isSpent = false;
  private lastTap = { time: -Infinity, x: 0, y: 0 };
  private longPressTimer: ReturnType<typeof setTimeout> | undefined;
  private readonly controller = new AbortController();

  /** @param camera takes what nobody else takes */
  constructor(
    private readonly element: HTMLElement,
    private readonly camera: PointerTaker,
  ) {
    const { signal } = this.controller;
    element.addEventListener('pointerdown', this.onDown, { signal });
    element.addEventListener('pointermove', this.onMove, { signal });
    element.addEventListener('pointerup', this.onUp, { signal });
    element.addEventListener('pointercancel', this.onUp, { signal });
    element.addEventListener('pointerleave', () => this.offer((taker) => taker.hover?.(null)), { signal });
    element.addEventListener('wheel', this.onWheel, { signal, passive: false });
    element.addEventListener('contextmenu', (event) => event.preventDefault(), { signal });
    element.addEventListener('keydown', this.onKey, { signal });
  }

  dispose(): void {
    this.controller.abort();
    clearTimeout(this.longPressTimer);
  }

  private get takers(): PointerTaker[] {
    return [...this.handles, ...(this.tool ? [this.tool] : []), ...this.base, this.camera];
  }

  /** Asks one after the other until somebody takes it. */
  private offer(take: (taker: PointerTaker) => boolean | undefined): boolean {
    return this.takers.some((taker) => take(taker) === true);
  }

  private readonly onDown = (event: PointerEvent): void => {
    this.element.setPointerCapture(event.pointerId);
    const press = pressOf(event);
    this.down.set(press.id, press);
    if (this.down.size === 1) {
      this.travelled = 0;
      this.isSpent = false;
      this.drag = null;
      for (const taker of this.takers) if ((this.drag = taker.press?.(press) ?? null)) break;
      this.longPressTimer = setTimeout(() => {
        if (!this.isSpent) this.longPress(press);
      }, LONG_PRESS_MS);
    } else {
      this.isSpent = true;
      clearTimeout(this.longPressTimer);
      this.tellFingers();
    }
  };

  /** Whoever has the gesture hears of its fingers, and may give it up: then it goes on as the camera's. */
  private tellFingers(): void {
    const fingers = [...this.down.values()];
    if (this.drag?.fingers?.(fingers) !== true) return;
    this.drag.end(true);
    this.drag = this.camera.press?.(fingers[0]!) ?? null;
    this.drag?.fingers?.(fingers);
  }

  private readonly onMove = (event: PointerEvent): void => {
    const press = pressOf(event);
    const last = this.down.get(event.pointerId);
    if (!last) {
      if (press.kind !== 'touch') this.offer((taker) => taker.hover?.(press));
      return;
    }
    this.down.set(press.id, press);
    this.travelled += Math.hypot(press.x - last.x, press.y - last.y);
    if (this.travelled < TAP_PIXELS && !this.isSpent) return;
    this.isSpent = true;
    clearTimeout(this.longPressTimer);
    this.drag?.move([...this.down.values()], press);
  };

  private readonly onUp = (event: PointerEvent): void => {
    const press = this.down.get(event.pointerId);
    if (!press) return;
    this.down.delete(press.id);
    const isCancelled = event.type === 'pointercancel';
    if (this.down.size > 0) return this.tellFingers();
    clearTimeout(this.longPressTimer);
    this.drag?.end(isCancelled);
    this.drag = null;
    if (!isCancelled && !this.isSpent && event.button === 0) this.tap(press);
  };

  private longPress(press: Press): void {
    for (const taker of this.takers) {
      const taken = taker.longPress?.(press) ?? false;
      if (taken === false) continue;
      this.isSpent = true;
      if (taken === true) return;
      this.drag?.end(true);
      this.drag = taken;
      return;
    }
  }

  private tap(press: Press): void {
    const now = performance.now();
    const { time, x, y } = this.lastTap;
    const isDouble = now - time < DOUBLE_TAP_MS && Math.hypot(press.x - x, press.y - y) < DOUBLE_TAP_PIXELS;
    this.lastTap = { time: isDouble ? -Infinity : now, x: press.x, y: press.y };
    this.offer((taker) => (isDouble ? taker.doubleTap?.(press) : taker.tap?.(press)));
  }

  private readonly onWheel = (event: WheelEvent): void => {
    event.preventDefault();
    const lines = event.deltaMode === WheelEvent.DOM_DELTA_LINE ? 30 : 1;
    const pixels = Math.min(NOTCH, Math.max(-NOTCH, event.deltaY * lines));
    // Two fingers on a trackpad say by the control key that they pinch.
    const amount = pixels * (event.ctrlKey ? 0.008 : 0.0018);
    const press = pressOf(event);
    this.offer((taker) => taker.wheel?.(press, amount));
  };

  private readonly onKey = (event: KeyboardEvent): void => {
    if (!this.offer((taker) => taker.key?.(event))) return;
    event.preventDefault();
    event.stopPropagation(); // a key means one thing
  };
}

function pressOf(event: PointerEvent | WheelEvent): Press {
  const { clientX, clientY, buttons, shiftKey } = event;
  const pointer = 'pointerId' in event ? event : null;
  const kind = pointer?.pointerType;
  return {
    id: pointer?.pointerId ?? -1,
    x: clientX,
    y: clientY,
    kind: kind === 'touch' || kind === 'pen' ? kind : 'mouse',
    buttons,
    shift: shiftKey,
    pressure: pointer?.pressure ?? 0,
  };
}
