import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { Vec3 } from '../math/mat4';
import { BODIES } from './body';
import { standingPlace, walk, type Surroundings, type Walked, type Walker } from './walk';

/** A solid block by two opposite corners. */
type Block = readonly [x0: number, y0: number, z0: number, x1: number, y1: number, z1: number];

/** A world of solid blocks, whose answers follow from their corners alone. */
function worldOf(blocks: readonly Block[]): Surroundings {
  const over = (x: number, y: number) =>
    blocks.filter(([x0, y0, , x1, y1]) => x >= x0 && x <= x1 && y >= y0 && y <= y1);
  const highest = (tops: number[]) => (tops.length > 0 ? Math.max(...tops) : null);
  return {
    isReady: () => true,
    floor: (x, y, from, depth) =>
      highest(over(x, y).flatMap(([, , , , , top]) => (top <= from && top >= from - depth ? [top] : []))),
    floorBelow: (x, y, from) => highest(over(x, y).flatMap(([, , , , , top]) => (top <= from ? [top] : []))),
    touch: (x, y, low, high, radius) => {
      let deepest: { out: Vec3; depth: number } | null = null;
      for (const [x0, y0, z0, x1, y1, z1] of blocks) {
        const clamp = (value: number, least: number, most: number) => Math.min(most, Math.max(least, value));
        const z = clamp(clamp(z0, low, high), low, Math.min(high, Math.max(low, z1)));
        const away: Vec3 = [x - clamp(x, x0, x1), y - clamp(y, y0, y1), z - clamp(z, z0, z1)];
        const apart = Math.hypot(...away);
        const depth = radius - apart;
        if (depth <= 0 || (deepest && deepest.depth >= depth)) continue;
        deepest = { out: apart > 0 ? (away.map((part) => part / apart) as Vec3) : [0, 0, -1], depth };
      }
      return deepest;
    },
  };
}

const GROUND: Block = [-50, -50, -1, 50, 50, 0];
const at = (...feet: Vec3): Walker => ({ feet, fall: 0 });

/** Walks on for a while at 1.4 m/s, thirty steps a second. */
function go(
  from: Walker,
  towards: readonly [number, number],
  seconds: number,
  world: Surroundings,
  body = BODIES.adult,
) {
  let now: Walked = { ...from, by: null };
  const hindrances = new Set<string>();
  for (let step = 0; step < seconds * 30; step++) {
    now = walk(now, [(towards[0] * 1.4) / 30, (towards[1] * 1.4) / 30], 1 / 30, body, world);
    if (now.by) hindrances.add(now.by);
  }
  return { ...now, hindrances };
}

describe('somebody who walks', () => {
  it('goes where the way is free, on the floor', () => {
    const { feet, hindrances } = go(at(0, 0, 0), [1, 0], 2, worldOf([GROUND]));
    expect(feet[0]).toBeCloseTo(2.8, 6);
    expect([feet[1], feet[2], hindrances.size]).toEqual([0, 0, 0]);
  });

  it('stops before a wall, however thin, and slides along it', () => {
    const world = worldOf([GROUND, [2, -50, 0, 2.01, 50, 3]]);
    const { feet, hindrances } = go(at(0, 0, 0), [1, 0], 4, world);
    expect(feet[0]).toBeCloseTo(2 - BODIES.adult.radius, 2);
    expect(hindrances).toContain('wall');
    const slid = go(at(0, 0, 0), [Math.SQRT1_2, Math.SQRT1_2], 6, world).feet;
    expect(slid[0]).toBeCloseTo(2 - BODIES.adult.radius, 2);
    expect(slid[1]).toBeGreaterThan(5);
    // A single long step goes through nothing either.
    expect(walk(at(0, 0, 0), [10, 0], 0.1, BODIES.adult, world).feet[0]).toBeLessThan(2);
  });

  it('comes to a stand in a corner', () => {
    const world = worldOf([GROUND, [2, -50, 0, 2.2, 50, 3], [-50, 2, 0, 50, 2.2, 3]]);
    const { feet } = go(at(0, 0, 0), [Math.SQRT1_2, Math.SQRT1_2], 6, world);
    expect(feet[0]).toBeCloseTo(2 - BODIES.adult.radius, 2);
    expect(feet[1]).toBeCloseTo(2 - BODIES.adult.radius, 2);
  });

  const stairs = Array.from({ length: 17 }, (_, i): Block => [1 + i * 0.27, -1, 0, 6.5, 1, (i + 1) * 0.1765]);

  it('climbs stairs and comes down again; a child does, a wheelchair does not', () => {
    const world = worldOf([GROUND, ...stairs]);
    const up = go(at(0, 0, 0), [1, 0], 4.3, world);
    expect(up.feet[2]).toBeCloseTo(17 * 0.1765, 6);
    expect(go(up, [-1, 0], 4.3, world).feet[2]).toBe(0);
    expect(go(at(0, 0, 0), [1, 0], 4.3, world, BODIES.child).feet[2]).toBeCloseTo(3, 2);
    const chair = go(at(0, 0, 0), [1, 0], 4.3, world, BODIES.wheelchair);
    expect(chair.feet[2]).toBe(0);
    expect(chair.feet[0]).toBeLessThan(0.8);
  });

  it('in a wheelchair goes over a threshold of 25 mm', () => {
    const { feet } = go(at(0, 0, 0), [1, 0], 4, worldOf([GROUND, [2, -50, 0, 2.1, 50, 0.025]]), BODIES.wheelchair);
    expect(feet[0]).toBeCloseTo(5.6, 2);
  });

  it('needs head room: stoops where it is low, and stops where it is lower', () => {
    const beam = (height: number) => worldOf([GROUND, [2, -50, height, 4, 50, 3]]);
    const stoops = go(at(0, 0, 0), [1, 0], 2, beam(1.5));
    expect(stoops.feet[0]).toBeCloseTo(2.8, 2);
    expect([stoops.stoops, [...stoops.hindrances]]).toEqual([true, ['low']]);
    // Behind it one stands upright again, and nobody is thrown ahead.
    const behind = go(stoops, [1, 0], 2, beam(1.5));
    expect(behind.stoops ?? false).toBe(false);
    expect(behind.feet[0]).toBeCloseTo(5.6, 1);
    const stopped = go(at(0, 0, 0), [1, 0], 4, beam(1.1));
    expect(stopped.feet[0]).toBeLessThan(2);
    expect(go(at(0, 0, 0), [1, 0], 4, beam(1.5), BODIES.wheelchair).feet[0]).toBeCloseTo(5.6, 2);
    expect(go(at(0, 0, 0), [1, 0], 4, beam(1.1), BODIES.wheelchair).feet[0]).toBeLessThan(2);
    expect(go(at(0, 0, 0), [1, 0], 4, beam(1.5), BODIES.child).hindrances.size).toBe(0);
    // Stairs end where even a lowered head would be in the ceiling.
    const under = go(at(0, 0, 0), [1, 0], 5, worldOf([GROUND, ...stairs, [-50, -50, 3, 50, 50, 3.2]]));
    expect(under.feet[2] + 1.2).toBeLessThan(3);
    expect(under.feet[2] + 1.72).toBeGreaterThan(3);
  });

  it('falls where it is deep, and lands on what is below', () => {
    const world = worldOf([GROUND, [-5, -5, 0, 1, 5, 3]]);
    const { feet, fall } = go(at(0, 0, 3), [1, 0], 3, world);
    expect([feet[2], fall]).toEqual([0, 0]);
    expect(feet[0]).toBeGreaterThan(1);
  });

  it('strides over a gap between two floors, but not over a hole', () => {
    const gap = worldOf([[-5, -5, -1, 1, 5, 0], [1.4, -5, -1, 9, 5, 0], [-50, -50, -9, 50, 50, -8]]); // prettier-ignore
    expect(go(at(0, 0, 0), [1, 0], 2, gap).feet).toEqual([expect.closeTo(2.8, 6), 0, 0]);
    const hole = worldOf([[-5, -5, -1, 1, 5, 0], [3, -5, -1, 9, 5, 0], [-50, -50, -9, 50, 50, -8]]); // prettier-ignore
    expect(go(at(0, 0, 0), [1, 0], 6, hole).feet[2]).toBe(-8);
  });

  it('never leaves the world: at its edge one stays and is told', () => {
    const { feet, hindrances } = go(at(0, 0, 0), [1, 0], 5, worldOf([[-2, -2, -1, 2, 2, 0]]));
    expect(feet[2]).toBe(0);
    expect(feet[0]).toBeLessThan(2 + BODIES.adult.radius);
    expect(hindrances).toContain('nothing-below');
  });

  it('is never below the ground nor inside of anything, wherever hands push', () => {
    const size = fc.double({ min: 0.2, max: 3, noNaN: true });
    const place = fc.double({ min: -4, max: 4, noNaN: true });
    const block = fc.tuple(place, place, size, size, size).map(([x, y, w, d, h]): Block => [x, y, 0, x + w, y + d, h]);
    const turn = fc.double({ min: 0, max: 2 * Math.PI, noNaN: true });
    fc.assert(
      fc.property(
        fc.array(block, { maxLength: 8 }),
        fc.array(turn, { minLength: 1, maxLength: 6 }),
        (blocks, turns) => {
          const world = worldOf([GROUND, ...blocks]);
          const start = standingPlace([0, 0, 0], BODIES.adult, world);
          fc.pre(start !== null);
          let now: Walker = { feet: start!, fall: 0 };
          for (const bearing of turns) now = go(now, [Math.cos(bearing), Math.sin(bearing)], 1.2, world);
          const [x, y, z] = now.feet;
          expect(z).toBeGreaterThanOrEqual(0);
          const { radius, eye, step, stoop } = BODIES.adult;
          const head = z + eye - (now.stoops ? stoop : 0);
          const depth = world.touch(x, y, z + step + 0.01 + radius, head - radius, radius)?.depth ?? 0;
          expect(depth).toBeLessThan(0.01);
        },
      ),
      { numRuns: 150 },
    );
  });
});

describe('a place to stand', () => {
  it('is beside what is in the way, and nowhere where there is no room', () => {
    const world = worldOf([GROUND, [-0.1, -0.1, 0, 0.1, 0.1, 3]]);
    const beside = standingPlace([0, 0, 0], BODIES.adult, world)!;
    expect(Math.hypot(beside[0], beside[1])).toBeGreaterThan(0.3);
    expect(standingPlace([0, 0, 0], BODIES.adult, worldOf([[-5, -5, -1, -4, 5, 0]]))).toBeNull();
    expect(standingPlace([0, 0, 0], BODIES.adult, worldOf([GROUND, [-5, -5, 1, 5, 5, 2]]))).toBeNull();
  });
});
