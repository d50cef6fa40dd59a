import { describe, expect, it } from 'vitest';
import type { Box3 } from '../math/box3';
import { chooseTiles, type DetailView } from './choose-tiles';
import type { DetailTile } from './detail-tile';
import { COARSEST_PIXEL_ERROR, FINEST_PIXEL_ERROR } from './device';
import { forecast } from './forecast';

function tile(box: Box3, error: number, triangles: number, children: DetailTile[] = []): DetailTile {
  const cost = { triangles, drawCalls: 2, bytes: triangles * 4, memory: triangles * 30 };
  return { box, error, cost, pictures: new Map(), children };
}

const LEFT = tile([-10, 0, 0, 0, 10, 10], 0, 900);
const RIGHT = tile([0, 0, 0, 10, 10, 10], 0, 1100);
const TOP = tile([-10, 0, 0, 10, 10, 10], 0.5, 200, [LEFT, RIGHT]);

/** From `distance` metres before the front, looking along +Y. At 90° and 1000 pixels, 1 m at 1 m is 500 pixels. */
function before(distance: number, aspect = 2): DetailView {
  return { eye: [0, -distance, 5], target: [0, 100, 5], fov: 90, aspect, height: 1000 };
}

describe('choosing tiles', () => {
  it('replaces a tile by its children where its error is seen larger than allowed', () => {
    // 0.5 m at 125 m are 2 pixels.
    expect(chooseTiles(TOP, before(125.1), 2)).toEqual([TOP]);
    expect(chooseTiles(TOP, before(124.9), 2)).toEqual([LEFT, RIGHT]);
    expect(chooseTiles(TOP, before(124.9), 4)).toEqual([TOP]);
  });

  it('leaves out what is not in sight', () => {
    const view: DetailView = { eye: [-5, -2, 5], target: [-5, 10, 5], fov: 40, aspect: 0.5, height: 1000 };
    expect(chooseTiles(TOP, view, 1)).toEqual([LEFT]);
    expect(chooseTiles(TOP, { ...view, target: [-5, -10, 5] }, 1)).toEqual([]);
  });

  it('goes through levels that draw nothing, and is not lost within a box', () => {
    const bare = { ...TOP, cost: null };
    expect(chooseTiles(bare, before(1000), 100)).toEqual([LEFT, RIGHT]);
    expect(chooseTiles(TOP, before(-5), 40)).toEqual([LEFT, RIGHT]);
  });
});

describe('a forecast', () => {
  it('tells what the heaviest view costs, twice for two eyes', () => {
    const { devices, views, firstLook } = forecast(TOP, TOP.box, [0], 1234);
    expect([views, firstLook]).toEqual([9 + 20, 1234]);
    const [phone, , headset] = devices;
    expect(phone).toMatchObject({ device: 'phone', triangles: 2000, drawCalls: 4, bytes: 8000, memory: 60_000 });
    expect(headset).toMatchObject({ device: 'headset', triangles: 4000, drawCalls: 8, bytes: 8000 });
    expect(devices.every(({ fits, pixelError }) => fits && pixelError === FINEST_PIXEL_ERROR)).toBe(true);
  });

  it('counts a picture once, however many tiles show it', () => {
    const shown = new Map([['brick.webp', 5000]]);
    const left = { ...LEFT, pictures: shown };
    const right = { ...RIGHT, pictures: new Map([...shown, ['oak.webp', 700]]) };
    const [phone] = forecast({ ...TOP, children: [left, right] }, TOP.box, [0], 0).devices;
    expect(phone!.bytes).toBe(8000 + 5000 + 700);
  });

  it('coarsens until a device can carry it, and says so where it never can', () => {
    const heavy = tile(TOP.box, 0.02, 100_000, [tile(LEFT.box, 0, 2_000_000), tile(RIGHT.box, 0, 2_000_000)]);
    const [phone, laptop] = forecast(heavy, heavy.box, [], 0).devices;
    expect(phone!.fits).toBe(false); // inside the box, no distance makes the coarse level do
    const outside = { ...heavy, error: 0.2, box: [-10, 0, 60, 10, 10, 70] as Box3 };
    const [far] = forecast(outside, outside.box, [0], 0).devices;
    expect(far).toMatchObject({ triangles: 100_000, fits: true });
    expect(far!.pixelError).toBeGreaterThan(FINEST_PIXEL_ERROR);
    expect(far!.pixelError).toBeLessThanOrEqual(COARSEST_PIXEL_ERROR);
    expect(laptop!.triangles).toBeGreaterThan(3_000_000);
  });
});
