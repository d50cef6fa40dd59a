import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { frameFor, fromMap, onMap, panned, zoomed } from './map-frame';

const extent = [10, 20, 58, 56] as const;
const near = fc.double({ min: 0, max: 400, noNaN: true });

describe('a map', () => {
  it('shows all of its extent, in a rectangle and in a circle, north up', () => {
    const frame = frameFor(extent, 400, 300, false);
    for (const [x, y] of [
      [10, 20],
      [58, 56],
    ] as const) {
      const [px, py] = onMap(frame, x, y);
      expect(px >= 0 && px <= 400 && py >= 0 && py <= 300).toBe(true);
    }
    expect(onMap(frame, 30, 50)[1]).toBeLessThan(onMap(frame, 30, 30)[1]);
    const round = frameFor(extent, 160, 160, true);
    const [px, py] = onMap(round, 58, 56);
    expect(Math.hypot(px - 80, py - 80)).toBeLessThan(80);
  });

  it('knows what lies under a place, however it was moved and zoomed', () => {
    const whole = frameFor(extent, 400, 300, false);
    fc.assert(
      fc.property(near, near, fc.double({ min: 1, max: 9, noNaN: true }), near, (px, py, factor, dx) => {
        const frame = panned(zoomed(whole, whole, factor, [px, py]), dx, -dx);
        const [x, y] = fromMap(frame, px, py);
        onMap(frame, x, y).forEach((value, i) => expect(value).toBeCloseTo([px, py][i]!, 6));
      }),
    );
  });

  it('keeps what lies under the hand while zooming, and is never smaller than the whole', () => {
    const whole = frameFor(extent, 400, 300, false);
    const before = fromMap(whole, 120, 90);
    const large = zoomed(whole, whole, 3, [120, 90]);
    expect(fromMap(large, 120, 90).map((v) => Math.round(v * 1e6))).toEqual(before.map((v) => Math.round(v * 1e6)));
    expect(zoomed(large, whole, 0.01, [5, 5])).toBe(whole);
    expect(zoomed(whole, whole, 1e9, [5, 5]).scale).toBe(whole.scale * 24);
  });
});
