import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { moved, toCanvas, toDrawing, wholeView, zoomed } from './flat-view';

const SIZE = { width: 400, height: 300 };
const number = fc.double({ min: -1000, max: 1000, noNaN: true });
const view = fc.record({ scale: fc.double({ min: 0.1, max: 1000, noNaN: true }), middle: fc.tuple(number, number) });
const pixel = fc.integer({ min: 0, max: 400 });

describe('the view of a flat drawing', () => {
  it('shows bounds whole, in the middle', () => {
    const whole = wholeView([0, 0, 40, 10], SIZE);
    expect(toCanvas(whole, SIZE, [20, 5])).toEqual({ x: 200, y: 150 });
    const corner = toCanvas(whole, SIZE, [0, 10]);
    expect(corner.x).toBeGreaterThan(0);
    expect(corner.x).toBeLessThan(40);
    expect(corner.y).toBeLessThan(150); // up in the drawing is up on the canvas
  });

  it('knows where a place of the canvas lies', () => {
    fc.assert(
      fc.property(view, pixel, pixel, (one, x, y) => {
        const back = toCanvas(one, SIZE, toDrawing(one, SIZE, x, y));
        expect(back.x).toBeCloseTo(x, 3);
        expect(back.y).toBeCloseTo(y, 3);
      }),
    );
  });

  it('keeps the place under the fingers', () => {
    fc.assert(
      fc.property(view, pixel, pixel, (one, x, y) => {
        const before = toDrawing(one, SIZE, x, y);
        const near = toCanvas(zoomed(one, SIZE, x, y, 1.7), SIZE, before);
        expect(near.x).toBeCloseTo(x, 2);
        const aside = toCanvas(moved(one, 30, -20), SIZE, before);
        expect(aside.x).toBeCloseTo(x + 30, 2);
        expect(aside.y).toBeCloseTo(y - 20, 2);
      }),
    );
  });
});
