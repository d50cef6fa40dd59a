import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/mat4';
import { measureFigure } from './figure';
import { layOut, type CardPlace, type Picture, type Place } from './layout';
import type { Measure } from './measures';

/** Seen from above: a pixel a hundredth. */
const picture: Picture = {
  width: 800,
  height: 600,
  free: { left: 0, top: 0, right: 800, bottom: 600 },
  place: ([x, y]) => ({ x: x * 100, y: 600 - y * 100 }),
  line: (a, b) => [picture.place(a)!, picture.place(b)!],
};
const TEXT = 13;
const CARD = { width: 70, height: 24 };
const distanceOf = (a: Vec3, b: Vec3): Measure => ({
  id: 'a',
  name: '',
  kind: 'distance',
  points: [a, b],
  normals: [],
  area: null,
});

/** Whether a line passes through a card, by looking at many places of it. */
function covers({ x, y, width, height }: CardPlace, path: Place[]): boolean {
  const [a, b] = path as [Place, Place];
  return Array.from({ length: 400 }, (_, i) => i / 399).some((share) => {
    const [px, py] = [a.x + (b.x - a.x) * share, a.y + (b.y - a.y) * share];
    return px > x && px < x + width && py > y && py < y + height;
  });
}

const place = fc.tuple(
  fc.double({ min: 1.5, max: 6.5, noNaN: true }),
  fc.double({ min: 1.5, max: 4.5, noNaN: true }),
  fc.constant(0),
);

describe('the card of a measure', () => {
  it('never covers its line, and stays in the picture', () => {
    fc.assert(
      fc.property(place, place, (a, b) => {
        const [laid] = layOut([measureFigure(distanceOf(a, b))], [CARD], picture, TEXT);
        const { card, dimensions } = laid!;
        expect(covers(card!, dimensions[0]!)).toBe(false);
        expect(card!.x).toBeGreaterThanOrEqual(0);
        expect(card!.x + card!.width).toBeLessThanOrEqual(picture.width);
      }),
    );
  });

  it('stands near its line, and beside other cards', () => {
    const one = measureFigure(distanceOf([2, 3, 0], [6, 3, 0]));
    const [first, second] = layOut([one, one], [CARD, CARD], picture, TEXT);
    expect(Math.abs(first!.card!.y + CARD.height / 2 - 300)).toBeLessThan(2 * CARD.height);
    const [a, b] = [first!.card!, second!.card!];
    expect(a.x + a.width <= b.x || b.x + b.width <= a.x || a.y + a.height <= b.y || b.y + b.height <= a.y).toBe(true);
  });

  it('stands beside what is seen of a line that leaves the picture', () => {
    const [laid] = layOut([measureFigure(distanceOf([-90, 3, 0], [4, 3, 0]))], [CARD], picture, TEXT);
    expect(laid!.card!.x).toBeGreaterThan(0);
    expect(laid!.card!.x).toBeLessThan(400);
    const [gone] = layOut([measureFigure(distanceOf([-90, 3, 0], [-80, 3, 0]))], [CARD], picture, TEXT);
    expect(gone!.card).toBeNull();
  });
});

describe('where something covers the picture', () => {
  it('cards stand beside it', () => {
    const covered = { ...picture, free: { ...picture.free, left: 420 } };
    const [laid] = layOut([measureFigure(distanceOf([3.6, 3, 0], [4.6, 3, 0]))], [CARD], covered, TEXT);
    expect(laid!.card!.x).toBeGreaterThanOrEqual(420);
  });
});

describe('dimension lines', () => {
  it('have ticks at 45° at their ends', () => {
    const [laid] = layOut([measureFigure(distanceOf([2, 3, 0], [6, 3, 0]))], [CARD], picture, TEXT);
    const [[a, b]] = laid!.ticks as [[Place, Place]];
    expect(laid!.ticks).toHaveLength(2);
    expect(Math.abs(b.x - a.x)).toBeCloseTo(Math.abs(b.y - a.y), 6);
    expect((a.x + b.x) / 2).toBeCloseTo(200, 6);
  });
});
