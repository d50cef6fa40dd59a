import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { Press } from '../input/pointer-taker';
import { GamePad } from './game-pad';
import { WalkingHands } from './hands';
import type { Walking } from './walking';

const page = new EventTarget();
const walking = {
  gait: 'walk' as string | null,
  wish: vi.fn(),
  look: vi.fn(),
  nudge: vi.fn(),
};
const asWalking = walking as unknown as Walking;

beforeEach(() => {
  vi.useFakeTimers();
  vi.resetAllMocks();
  walking.gait = 'walk';
  vi.stubGlobal('window', page);
});
afterEach(() => {
  vi.unstubAllGlobals();
  vi.useRealTimers();
});

const press = (x: number, y: number, id = 1): Press => ({ id, x, y, kind: 'mouse', buttons: 1, shift: false, pressure: 0.5 }); // prettier-ignore
const key = (code: string, shiftKey = false) => ({ code, shiftKey }) as KeyboardEvent;
const keyUp = (code: string) => page.dispatchEvent(Object.assign(new Event('keyup'), { code }));

describe('hands of somebody who stands', () => {
  it('walk as long as keys are held, two of them at once, and stop when the page is left', () => {
    const hands = new WalkingHands(asWalking);
    expect(hands.key(key('ArrowUp'))).toBe(true);
    expect(hands.key(key('KeyD'))).toBe(true);
    expect(walking.wish).toHaveBeenLastCalledWith('keys', { ahead: 1, aside: 1, turn: 0, up: 0 });
    keyUp('KeyD');
    expect(walking.wish).toHaveBeenLastCalledWith('keys', { ahead: 1, aside: 0, turn: 0, up: 0 });
    page.dispatchEvent(new Event('blur'));
    expect(walking.wish).toHaveBeenLastCalledWith('keys', { ahead: 0, aside: 0, turn: 0, up: 0 });
    expect(hands.key(key('ArrowRight', true))).toBe(true);
    expect(walking.wish).toHaveBeenLastCalledWith('keys', { ahead: 0, aside: 1, turn: 0, up: 0 });
    expect(hands.key(key('Tab'))).toBe(false);
    hands.dispose();
  });

  it('look about by a drag, go on by a wheel or two fingers', () => {
    const hands = new WalkingHands(asWalking);
    const drag = hands.press(press(100, 100))!;
    drag.move([press(190, 100)], press(190, 100));
    const [yaw, pitch] = walking.look.mock.calls[0] as [number, number];
    expect(yaw).toBeCloseTo((90 * Math.PI) / 900, 9);
    expect(pitch).toBe(0);
    drag.fingers!([press(100, 100), press(200, 100, 2)]);
    drag.move([press(100, 100), press(260, 100, 2)], press(260, 100, 2));
    expect(walking.nudge.mock.calls[0]![0]).toBeLessThan(0); // fingers apart go ahead, as a wheel does that is turned away
    expect(hands.wheel(press(0, 0), 0.2)).toBe(true);
    hands.dispose();
  });

  it('leave everything to others while nobody stands', () => {
    walking.gait = null;
    const hands = new WalkingHands(asWalking);
    expect([hands.press(press(0, 0)), hands.wheel(press(0, 0), 1), hands.key(key('ArrowUp'))]).toEqual([null, false, false]); // prettier-ignore
    hands.dispose();
  });
});

describe('a game pad', () => {
  it('walks with one stick, turns with the other, and a stick that hardly moves is still', () => {
    const pad = {
      mapping: 'standard',
      axes: [0.05, -1, 0.5, 0.5],
      buttons: Array.from({ length: 17 }, () => ({ value: 0 })),
    };
    vi.stubGlobal('navigator', { getGamepads: () => [null, pad] });
    const game = new GamePad(asWalking);
    vi.advanceTimersByTime(20);
    expect(walking.wish).toHaveBeenLastCalledWith('pad', { ahead: 1, aside: 0, turn: 0.5, up: 0 });
    expect(walking.look).toHaveBeenCalled();
    pad.buttons[7] = { value: 1 };
    vi.advanceTimersByTime(20);
    expect(walking.wish).toHaveBeenLastCalledWith('pad', { ahead: 1, aside: 0, turn: 0.5, up: 1 });
    game.dispose();
    walking.wish.mockClear();
    vi.advanceTimersByTime(200);
    expect(walking.wish).not.toHaveBeenCalled();
  });
});
