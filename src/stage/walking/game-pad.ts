import type { Walking } from './walking';

/** A stick that is moved less than this lies in its middle. */
const DEAD = 0.15;
/** The shoulder buttons of the standard layout: lower left sinks, lower right rises. */
const DOWN = 6;
const UP = 7;
const POLL_MS = 1000 / 60;

/** Lets a game pad walk: left stick goes, right stick turns and looks up and down, shoulder buttons sink and rise. */
export class GamePad {
  private timer: ReturnType<typeof setInterval> | undefined;
  private readonly controller = new AbortController();

  constructor(private readonly walking: Walking) {
    const { signal } = this.controller;
    window.addEventListener('gamepadconnected', () => this.begin(), { signal });
    window.addEventListener('gamepaddisconnected', () => this.endWithoutPads(), { signal });
    if (pads().length > 0) this.begin();
  }

  dispose(): void {
    this.controller.abort();
    clearInterval(this.timer);
  }

  private begin(): void {
    // Browsers tell of no movement of a stick: it has to be asked.
    this.timer ??= setInterval(() => this.poll(), POLL_MS);
  }

  private endWithoutPads(): void {
    if (pads().length > 0) return;
    clearInterval(this.timer);
    this.timer = undefined;
    this.walking.wish('pad', null);
  }

  private poll(): void {
    if (!this.walking.gait) return;
    const [pad] = pads();
    if (!pad) return;
    const axis = (number: number) => live(pad.axes[number] ?? 0);
    const pressed = (number: number) => pad.buttons[number]?.value ?? 0;
    this.walking.wish('pad', {
      ahead: -axis(1),
      aside: axis(0),
      turn: axis(2),
      up: live(pressed(UP) - pressed(DOWN)),
    });
    const tilt = axis(3);
    if (tilt !== 0) this.walking.look(0, -tilt * 0.03);
  }
}

function pads(): Gamepad[] {
  return navigator.getGamepads().filter((pad): pad is Gamepad => pad !== null && pad.mapping === 'standard');
}

function live(value: number): number {
  return Math.abs(value) < DEAD ? 0 : value;
}
