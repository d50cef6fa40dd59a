import { describe, expect, it } from 'vitest';
import { reversedPath } from './path';
import type { Region } from './region';
import { MOST_CORNERS, roomAround } from './room';

const rectangle = (x0: number, y0: number, x1: number, y1: number): Region => ({
  border: Float64Array.of(x0, y0, x1, y0, x1, y1, x0, y1),
  holes: [],
});

/** Four walls of 0.2 m about 5 by 4 m, the southern one with a gap from 2 m on. */
const walls = (gap: number): Region[] => [
  rectangle(-0.2, -0.2, 2, 0),
  rectangle(2 + gap, -0.2, 5.2, 0),
  rectangle(-0.2, 4, 5.2, 4.2),
  rectangle(-0.2, -0.2, 0, 4.2),
  rectangle(5, -0.2, 5.2, 4.2),
];

describe('the room around a place', () => {
  it('is what lies within its walls', () => {
    expect(roomAround(walls(0), [1, 1])!.area).toBeCloseTo(20, 2);
  });

  it('is closed by a door, also where that stands a little off its frame', () => {
    const door = rectangle(2.02, -0.15, 2.88, -0.1);
    expect(roomAround([...walls(0.9), door], [1, 1])!.area).toBeCloseTo(20, 0);
    expect(roomAround(walls(0.9), [1, 1])).toBeNull();
  });

  it('goes around what stands in it, and is none within that', () => {
    const column = rectangle(3, 2, 3.5, 2.5);
    expect(roomAround([...walls(0), column], [1, 1])!.area).toBeCloseTo(20, 2);
    expect(roomAround([...walls(0), column], [3.2, 2.2])).toBeNull();
  });

  it('is the inner one where rooms stand in rooms', () => {
    const ring: Region = {
      border: rectangle(1, 1, 3, 3).border,
      holes: [reversedPath(rectangle(1.1, 1.1, 2.9, 2.9).border)],
    };
    expect(roomAround([...walls(0), ring], [2, 2])!.area).toBeCloseTo(1.8 * 1.8, 3);
    expect(roomAround([...walls(0), ring], [0.5, 0.5])!.area).toBeCloseTo(20, 2);
  });

  it('has a plain outline also where its wall has thousands of corners', () => {
    const round = (radius: number) =>
      Float64Array.from(
        Array.from({ length: 5000 }, (_, i) => (2 * Math.PI * i) / 5000).flatMap((turn) => [
          radius * Math.cos(turn),
          radius * Math.sin(turn),
        ]),
      );
    const room = roomAround([{ border: round(5.2), holes: [reversedPath(round(5))] }], [1, 1])!;
    expect(room.border.length / 2).toBeLessThanOrEqual(MOST_CORNERS);
    expect(Math.abs(room.area - Math.PI * 25)).toBeLessThan(0.03);
  });

  it('is nowhere in the open', () => {
    expect(roomAround(walls(0), [10, 10])).toBeNull();
    expect(roomAround([], [0, 0])).toBeNull();
  });
});
