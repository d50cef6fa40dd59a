import type { Drag, PointerTaker, Press } from '../input/pointer-taker';
import type { Walking, Wish } from './walking';

const FULL_TURN_PIXELS = 900;
const STILL: Wish = { ahead: 0, aside: 0, turn: 0, up: 0 };

/** What keys want while they are held; by their place on the keyboard, whatever is printed on them. */
const KEYS: Record<string, Partial<Wish>> = {
  ArrowUp: { ahead: 1 },
  ArrowDown: { ahead: -1 },
  ArrowLeft: { turn: -1 },
  ArrowRight: { turn: 1 },
  KeyW: { ahead: 1 },
  KeyS: { ahead: -1 },
  KeyA: { aside: -1 },
  KeyD: { aside: 1 },
  PageUp: { up: 1 },
  PageDown: { up: -1 },
};
const SIDEWAYS: Record<string, Partial<Wish>> = { ArrowLeft: { aside: -1 }, ArrowRight: { aside: 1 } };

/** What hands on the picture mean while somebody stands or flies in it: a drag looks about, held keys and the wheel go. */
export class WalkingHands implements PointerTaker {
  private readonly held = new Map<string, Partial<Wish>>();
  private readonly controller = new AbortController();

  constructor(private readonly walking: Walking) {
    const { signal } = this.controller;
    window.addEventListener('keyup', ({ code }) => this.release(code), { signal });
    window.addEventListener('blur', () => this.releaseAll(), { signal });
  }

  press(press: Press): Drag | null {
    if (!this.walking.gait) return null;
    let before = press;
    let apart = 0;
    return {
      fingers: (now) => {
        if (now[0]) before = now[0];
        apart = spread(now);
      },
      move: (fingers, moved) => {
        const first = fingers[0]!;
        if (fingers.length >= 2) {
          // Two fingers apart go on, together go back.
          const wide = spread(fingers);
          if (apart > 0) this.walking.nudge((apart - wide) / 150);
          apart = wide;
        } else if (moved.id === before.id) {
          const turn = (2 * Math.PI) / FULL_TURN_PIXELS / 2;
          this.walking.look((moved.x - before.x) * turn, (moved.y - before.y) * turn);
        }
        before = first;
      },
      end: () => undefined,
    };
  }

  wheel(_: Press, amount: number): boolean {
    if (!this.walking.gait) return false;
    this.walking.nudge(amount);
    return true;
  }

  key({ code, shiftKey }: KeyboardEvent): boolean {
    if (!this.walking.gait) return false;
    const wish = (shiftKey && SIDEWAYS[code]) || KEYS[code];
    if (!wish) return false;
    this.held.set(code, wish);
    this.tell();
    return true;
  }

  dispose(): void {
    this.controller.abort();
    this.releaseAll();
  }

  private release(code: string): void {
    if (this.held.delete(code)) this.tell();
  }

  private releaseAll(): void {
    this.held.clear();
    this.tell();
  }

  private tell(): void {
    const wish = { ...STILL };
    for (const one of this.held.values())
      for (const key of Object.keys(one) as (keyof Wish)[]) wish[key] += one[key] ?? 0;
    this.walking.wish('keys', wish);
  }
}

function spread([a, b]: readonly Press[]): number {
  return a && b ? Math.hypot(a.x - b.x, a.y - b.y) : 0;
}
