import type { Vec3 } from '../math/mat4';
import { add, cross, distance, dot, mix, scale, subtract } from '../math/vec3';
import type { ElementFeatures, Line } from './element-features';

/** What a place that is pointed at can be. */
export const SNAP_KINDS = ['corner', 'edge', 'middle', 'crossing', 'centre', 'centre line', 'square', 'face'] as const;
export type SnapKind = (typeof SNAP_KINDS)[number];

export interface Snap {
  kind: SnapKind;
  point: Vec3;
  /** The edge or centre line that it lies on; null on what has none. */
  line: Line | null;
}

/** Somebody points at a place. */
export interface Aim {
  /** The line of sight. */
  origin: Vec3;
  /** Of length 1. */
  direction: Vec3;
  /** Metres to a pixel so far along the line of sight. */
  metresPerPixel(along: number): number;
  /** Pixels within which something is meant. */
  reach: number;
  kinds: ReadonlySet<SnapKind>;
  /** Where the line of sight meets a surface, with its normal; null where it meets none. */
  surface: { point: Vec3; normal: Vec3 } | null;
  /** The place before, to which the next may be square. */
  from: Vec3 | null;
}

/** One thing with what of it can be meant. */
export interface SnapSource {
  features: ElementFeatures;
  /** Whether a place on it, or within it, is seen. */
  isSeen(point: Vec3, kind: SnapKind): boolean;
}

/** Two edges that come so near to each other cross, metres. */
const TOUCH = 0.002;
/** Crossings are sought among so many edges at most. */
const MOST_CROSSING = 24;
/** So many of the best are looked at for whether they are seen: behind a facade may lie hundreds that are not. */
const MOST_LOOKED_AT = 24;
/** Pixels by which a place of its own is preferred to a place along something. */
const HEADSTART: Record<SnapKind, number> = {
  corner: 3,
  crossing: 2,
  centre: 2,
  middle: 0,
  square: -2,
  'centre line': -4,
  edge: -5,
  face: 0,
};
const PLACES: readonly SnapKind[] = ['corner', 'crossing', 'centre', 'middle', 'square'];

/** What was meant, and what it is on; null for the foot on a face. */
export interface ChosenSnap<S extends SnapSource> extends Snap {
  source: S | null;
}

interface Candidate<S extends SnapSource> extends ChosenSnap<S> {
  /** Pixels from the line of sight. */
  away: number;
}

/**
 * What is meant by pointing at a place: of all that is within reach and seen, a place of its own before a place along a line,
 * a line before the face; of several the nearest, with a little headstart for corners.
 *
 * @returns null where nothing is met
 */
export function chooseSnap<S extends SnapSource>(aim: Aim, sources: readonly S[]): ChosenSnap<S> | null {
  const candidates: Candidate<S>[] = [];
  const offer = (kind: SnapKind, point: Vec3, line: Line | null, source: S | null) => {
    const away = pixelsAway(aim, point);
    if (away <= aim.reach) candidates.push({ kind, point, line, source, away });
  };
  const near: { line: Line; source: S }[] = [];
  const has = (kind: SnapKind) => aim.kinds.has(kind);
  for (const source of sources) {
    const { corners, middles, edges, circles, centreLines } = source.features;
    if (has('corner')) for (const corner of corners) offer('corner', corner, null, source);
    if (has('middle')) for (const middle of middles) offer('middle', middle, null, source);
    if (has('centre')) for (const { centre } of circles) offer('centre', centre, null, source);
    if (has('centre line'))
      for (const line of centreLines) offer('centre line', nearestToSight(aim, line), line, source);
    if (has('edge') || has('crossing') || has('square'))
      for (const line of edges) {
        const point = nearestToSight(aim, line);
        if (pixelsAway(aim, point) > aim.reach) continue;
        if (has('edge')) offer('edge', point, line, source);
        near.push({ line, source });
      }
  }
  if (has('crossing')) offerCrossings(near.slice(0, MOST_CROSSING), offer);
  if (has('square') && aim.from) {
    const { from, surface } = aim;
    for (const { line, source } of near) {
      const foot = footOn(line, from);
      if (foot && distance(foot, from) > TOUCH) offer('square', foot, line, source);
    }
    if (surface) {
      const foot = subtract(from, scale(surface.normal, dot(subtract(from, surface.point), surface.normal)));
      if (distance(foot, from) > TOUCH) offer('square', foot, null, null);
    }
  }
  const rank = ({ kind, away }: Candidate<S>) => (PLACES.includes(kind) ? 0 : 1000) + away - HEADSTART[kind];
  candidates.sort((a, b) => rank(a) - rank(b));
  const taken = candidates
    .slice(0, MOST_LOOKED_AT)
    .find(({ source, point, kind }) => !source || source.isSeen(point, kind));
  if (taken) return { kind: taken.kind, point: taken.point, line: taken.line, source: taken.source };
  return aim.surface && has('face') ? { kind: 'face', point: aim.surface.point, line: null, source: null } : null;
}

/**
 * The place on the line through another along an axis that is nearest to where one points: an axis is held.
 *
 * @returns null where one looks along the axis
 */
export function alongAxis(
  { origin, direction }: Pick<Aim, 'origin' | 'direction'>,
  from: Vec3,
  axis: Vec3,
): Vec3 | null {
  const lean = dot(direction, axis);
  const square = 1 - lean * lean;
  if (square < 1e-6) return null;
  const w = subtract(from, origin);
  return add(from, scale(axis, (lean * dot(direction, w) - dot(axis, w)) / square));
}

function offerCrossings<S extends SnapSource>(
  near: readonly { line: Line; source: S }[],
  offer: (kind: SnapKind, point: Vec3, line: Line | null, source: S) => void,
): void {
  near.forEach(({ line, source }, i) => {
    for (const { line: other } of near.slice(i + 1)) {
      const point = crossingOf(line, other);
      if (point) offer('crossing', point, line, source);
    }
  });
}

/** Where two edges meet between their ends; null where they do not. */
function crossingOf(one: Line, other: Line): Vec3 | null {
  const [u, v] = [subtract(one[1], one[0]), subtract(other[1], other[0])];
  const w = subtract(one[0], other[0]);
  const [uu, uv, vv, uw, vw] = [dot(u, u), dot(u, v), dot(v, v), dot(u, w), dot(v, w)];
  const determinant = uu * vv - uv * uv;
  if (determinant < 1e-9 * uu * vv) return null;
  const s = (uv * vw - vv * uw) / determinant;
  const t = (uu * vw - uv * uw) / determinant;
  if (s < 0 || s > 1 || t < 0 || t > 1) return null;
  const [a, b] = [mix(one[0], one[1], s), mix(other[0], other[1], t)];
  return distance(a, b) <= TOUCH ? a : null;
}

/** Foot of a point on a line between its ends; null beyond them. */
function footOn([a, b]: Line, point: Vec3): Vec3 | null {
  const along = subtract(b, a);
  const share = dot(subtract(point, a), along) / dot(along, along);
  return share >= 0 && share <= 1 ? mix(a, b, share) : null;
}

/** The place on a line between two points that is nearest to the line of sight. */
function nearestToSight({ origin, direction }: Aim, [a, b]: Line): Vec3 {
  const u = subtract(b, a);
  const w = subtract(a, origin);
  const [uu, ud, uw, dw] = [dot(u, u), dot(u, direction), dot(u, w), dot(direction, w)];
  const determinant = uu - ud * ud;
  const share = determinant < 1e-12 * uu || uu === 0 ? 0 : (ud * dw - uw) / determinant;
  return mix(a, b, Math.min(1, Math.max(0, share)));
}

function pixelsAway({ origin, direction, metresPerPixel }: Aim, point: Vec3): number {
  const from = subtract(point, origin);
  const along = dot(from, direction);
  if (along <= 0) return Infinity;
  return Math.hypot(...cross(from, direction)) / metresPerPixel(along);
}
