import type { Vec3 } from '../math/mat4';
import { heightOf, stooped, type Body } from './body';

/** What a walker meets, asked of the real geometry. Metres, Z up. */
export interface Surroundings {
  /** Whether all surfaces are there that matter at a place. */
  isReady(at: Vec3): boolean;
  /** The highest surface to stand on at a place, not above `from` and at most `depth` below it; null where there is none. */
  floor(x: number, y: number, from: number, depth: number): number | null;
  /** Height of what there is to stand on anywhere below; null where nothing is. */
  floorBelow(x: number, y: number, from: number): number | null;
  /** What an upright capsule touches: a direction out of it, unit length, and how deep it is in. Null where it is free. */
  touch(x: number, y: number, low: number, high: number, radius: number): Touch | null;
}

export interface Touch {
  out: Vec3;
  depth: number;
}

export interface Walker {
  /** Where the feet are. */
  feet: Vec3;
  /** Metres a second downwards while falling; 0 on the ground. */
  fall: number;
  /** Whether the head is lowered, because there is no room for it. */
  stoops?: boolean;
}

/** What kept somebody from going on, or made them stoop to go on. */
export type Hindrance = 'wall' | 'head' | 'low' | 'nothing-below' | 'waits';

export interface Walked extends Walker {
  /** Null where the way was free. */
  by: Hindrance | null;
}

const GRAVITY = 9.81;
/** Faster than this nobody falls: in a picture it would be a jump. */
const FASTEST_FALL = 12;
/** How often a body is moved out of what it touches before it has to stay. */
const MOST_PUSHES = 6;
/** Metres that a body may still be in something: publishing rounds corners by less. */
const SLACK = 0.004;
/** Parts of a body's radius at which the floor is felt for, beside its middle. */
const FOOT = 0.5;
/** Metres without a floor that are strided over: between slabs, in the opening of a wall. */
const STRIDE = 0.6;
/** What presses from more above than this stops the head, not the shoulders. */
const OVERHEAD = 0.7;
/** Long ways are gone in parts, so that nothing is passed through. */
const PART = 0.45;
const MOST_PARTS = 40;

/**
 * One step of somebody who walks: stopped by walls, along which they slide; stooping where it is low; up and down what is no
 * higher than a step of the body; falling where it is deeper; never to where nothing is below.
 *
 * @param way metres to go, level @param seconds that it takes
 */
export function walk(
  walker: Walker,
  way: readonly [number, number],
  seconds: number,
  body: Body,
  around: Surroundings,
): Walked {
  const length = Math.hypot(...way);
  const parts = Math.min(MOST_PARTS, Math.max(1, Math.ceil(length / (body.radius * PART))));
  let now: Walked = { ...walker, by: null };
  for (let part = 0; part < parts; part++) {
    const next = goOrStoop(now, { way: [way[0] / parts, way[1] / parts], seconds: seconds / parts, body, around });
    now = { ...next, by: next.by ?? now.by };
    if (next.by === 'waits') break;
  }
  return now;
}

/** A part of a way, and who goes it among what. */
interface Part {
  way: readonly [number, number];
  seconds: number;
  body: Body;
  around: Surroundings;
}

/** Goes upright where that leads on, and else stooping. */
function goOrStoop(walker: Walker, part: Part): Walked {
  const { way, body, around } = part;
  const upright = goOn(walker, part);
  const isHindered = upright.by === 'head' || upright.by === 'wall';
  if (body.stoop === 0 || upright.fall > 0 || (!isHindered && !walker.stoops)) return upright;
  const progress = ({ feet }: Walked) => (feet[0] - walker.feet[0]) * way[0] + (feet[1] - walker.feet[1]) * way[1];
  const low = goOn(walker, { ...part, body: stooped(body) });
  const isUpright = hasRoom(upright.feet, body, around);
  const [ahead, lower] = [isUpright ? progress(upright) : -Infinity, progress(low)];
  // Whoever has risen too early is pushed aside by what they stand under: that is no progress.
  const isShoved = walker.stoops === true && ahead > 2 * Math.hypot(...way) ** 2;
  if (!isShoved && ahead >= lower - SLACK * Math.hypot(...way)) return upright;
  return { ...low, by: low.by ?? 'low', stoops: !hasRoom(low.feet, body, around) };
}

function hasRoom(feet: Vec3, body: Body, around: Surroundings): boolean {
  const touch = touchOf(feet, body, around);
  return !touch || touch.depth <= SLACK;
}

function goOn(walker: Walker, part: Part): Walked {
  const { feet, fall } = walker;
  const { seconds, body, around } = part;
  const [dx, dy] = part.way;
  const stay = (by: Hindrance | null): Walked => ({ feet, fall: 0, by });
  if (!around.isReady(feet)) return stay('waits');
  if (fall > 0) return fallOn(walker, part);
  const free = pushedOut([feet[0] + dx, feet[1] + dy, feet[2]], body, around);
  if (!free.at) return stay(free.by);
  const [x, y] = free.at;
  const floor = floorUnder(x, y, feet[2], body, around);
  if (floor !== null) return stand([x, y, floor], free.by, feet, body, around);
  const length = Math.hypot(dx, dy);
  if (length > 0) {
    // A gap between two floors is strided over.
    const [ux, uy] = [dx / length, dy / length];
    const isGap = [0.5, 1].some(
      (share) => floorUnder(x + ux * STRIDE * share, y + uy * STRIDE * share, feet[2], body, around) !== null,
    );
    if (isGap) return { feet: [x, y, feet[2]], fall: 0, by: free.by };
  }
  const below = around.floorBelow(x, y, feet[2]);
  if (below === null) return stay('nothing-below');
  return { feet: [x, y, feet[2]], fall: GRAVITY * seconds + 1e-3, by: free.by };
}

/** Stands on a floor, unless the head would be in something there. */
function stand(at: Vec3, by: Hindrance | null, before: Vec3, body: Body, around: Surroundings): Walked {
  if (Math.abs(at[2] - before[2]) > SLACK) {
    const touch = touchOf(at, body, around);
    if (touch && touch.depth > SLACK) return { feet: before, fall: 0, by: touch.out[2] < -OVERHEAD ? 'head' : 'wall' };
  }
  return { feet: at, fall: 0, by };
}

function fallOn({ feet, fall }: Walker, { way: [dx, dy], seconds, body, around }: Part): Walked {
  const below = around.floorBelow(feet[0], feet[1], feet[2] + body.step);
  // What was below is gone, such as hidden: one stays where one is.
  if (below === null) return { feet, fall: 0, by: 'nothing-below' };
  const down = feet[2] - fall * seconds;
  if (down <= below) return { feet: [feet[0], feet[1], below], fall: 0, by: null };
  const free = pushedOut([feet[0] + dx, feet[1] + dy, down], body, around);
  const isSafe = free.at !== null && around.floorBelow(free.at[0], free.at[1], down) !== null;
  const [x, y] = isSafe ? free.at! : feet;
  return { feet: [x, y, down], fall: Math.min(FASTEST_FALL, fall + GRAVITY * seconds), by: null };
}

/** The floor felt with the whole foot: gaps narrower than it are nothing. */
function floorUnder(x: number, y: number, z: number, { radius, step }: Body, around: Surroundings): number | null {
  const r = radius * FOOT;
  let best: number | null = null;
  for (const [ox, oy] of [
    [0, 0],
    [r, 0],
    [-r, 0],
    [0, r],
    [0, -r],
  ] as const) {
    const floor = around.floor(x + ox, y + oy, z + step, 2 * step + SLACK);
    if (floor !== null && (best === null || floor > best)) best = floor;
  }
  return best;
}

function touchOf([x, y, z]: Vec3, body: Body, around: Surroundings): Touch | null {
  const low = z + body.step + 0.01 + body.radius;
  return around.touch(x, y, low, Math.max(low, z + heightOf(body) - body.radius), body.radius);
}

/** The nearest place, level, where a body touches nothing; none where it does not fit. */
function pushedOut(to: Vec3, body: Body, around: Surroundings): { at: Vec3 | null; by: Hindrance | null } {
  let at = to;
  let by: Hindrance | null = null;
  for (let push = 0; push < MOST_PUSHES; push++) {
    const touch = touchOf(at, body, around);
    if (!touch || touch.depth <= SLACK / 4) return { at, by };
    const level = Math.hypot(touch.out[0], touch.out[1]);
    if (touch.out[2] < -OVERHEAD || level < 1e-3) return { at: null, by: 'head' };
    by = 'wall';
    const depth = touch.depth / level;
    at = [at[0] + (touch.out[0] / level) * depth, at[1] + (touch.out[1] / level) * depth, at[2]];
  }
  const rest = touchOf(at, body, around);
  return rest && rest.depth > SLACK ? { at: null, by: 'wall' } : { at, by };
}

/** How far beside a place somebody is put who does not fit just there, metres. */
const RINGS = [0, 0.15, 0.3, 0.5, 0.8];
const BEARINGS = 12;

/**
 * Where somebody can stand at or near a place of a floor.
 *
 * @param place on or a little above the floor
 * @returns where the feet are; null where there is no room or no floor
 */
export function standingPlace(place: Vec3, body: Body, around: Surroundings): Vec3 | null {
  const [x, y, z] = place;
  for (const ring of RINGS)
    for (let bearing = 0; bearing < (ring === 0 ? 1 : BEARINGS); bearing++) {
      const turn = (2 * Math.PI * bearing) / BEARINGS;
      const [px, py] = [x + ring * Math.cos(turn), y + ring * Math.sin(turn)];
      const floor = floorUnder(px, py, z, body, around);
      if (floor === null) continue;
      if (hasRoom([px, py, floor], body, around)) return [px, py, floor];
    }
  return null;
}
