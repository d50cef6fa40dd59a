import type { Vec3 } from '../math/mat4';
import { cross, distance, dot, mix, scale, subtract, unit } from '../math/vec3';
import { bodyFaces, type BodyFace } from '../mesh/body-faces';
import { realEdges } from '../mesh/real-edges';
import { fitCircle, type Circle } from './fit-circle';

export type Line = readonly [Vec3, Vec3];

/** What of an element a measure may begin or end at. All in the coordinates of its triangles, metres. */
export interface ElementFeatures {
  corners: Vec3[];
  /** Middles of straight edges. */
  middles: Vec3[];
  edges: Line[];
  /** Round borders of flat faces, also parts of circles. */
  circles: Circle[];
  /** Axes of what is round or long and prismatic: pipes, columns, beams. */
  centreLines: Line[];
}

export const NO_FEATURES: ElementFeatures = { corners: [], middles: [], edges: [], circles: [], centreLines: [] };

/** The same features elsewhere. @param turn of directions */
export function movedFeatures(
  { corners, middles, edges, circles, centreLines }: ElementFeatures,
  move: (point: Vec3) => Vec3,
  turn: (direction: Vec3) => Vec3,
): ElementFeatures {
  const moveLine = ([a, b]: Line): Line => [move(a), move(b)];
  return {
    corners: corners.map(move),
    middles: middles.map(move),
    edges: edges.map(moveLine),
    circles: circles.map(({ centre, normal, radius }) => ({ centre: move(centre), normal: turn(normal), radius })),
    centreLines: centreLines.map(moveLine),
  };
}

/** Sides of a polygon that is meant to be round turn by less than this. */
const MOST_TURN = (50 * Math.PI) / 180;
/** So many corners in a row make a round. */
const LEAST_ON_ROUND = 6;
/** Vertices are rounded to half a millimetre along each axis. */
const ROUNDING = 0.0015;
/** A prism is long, so that its axis means something, if it is so many times longer than wide. */
const LONG = 2.5;
const PARALLEL = Math.cos((2 * Math.PI) / 180);

/**
 * @param positions three coordinates a vertex
 * @param indices three vertices a triangle
 */
export function elementFeatures(positions: ArrayLike<number>, indices: ArrayLike<number>): ElementFeatures {
  const { faces } = bodyFaces(positions, indices, 'flat');
  const rounds = faces.flatMap(roundsOf);
  const onRound = new Set<string>();
  const insideRound = new Set<string>();
  const onOneRound = new Set<string>();
  for (const { points, isWhole } of rounds)
    points.forEach((point, i) => {
      onRound.add(placeKey(point));
      if (isWhole || (i > 0 && i < points.length - 1)) insideRound.add(placeKey(point));
      const next = points[i + 1] ?? (isWhole ? points[0] : undefined);
      if (next) onOneRound.add(edgeKey(point, next));
    });
  const corners = new Map<string, Vec3>();
  const middles: Vec3[] = [];
  const edges: Line[] = [];
  for (const [a, b] of realEdges(positions, indices)) {
    const isPartOfRound = onOneRound.has(edgeKey(a, b));
    // Lines along a round surface come of its facets.
    if (!isPartOfRound && insideRound.has(placeKey(a)) && insideRound.has(placeKey(b))) continue;
    edges.push([a, b]);
    if (!isPartOfRound) middles.push(mix(a, b, 0.5));
    for (const end of [a, b]) if (!insideRound.has(placeKey(end))) corners.set(placeKey(end), end);
  }
  return {
    corners: [...corners.values()],
    middles,
    edges,
    circles: distinctCircles(rounds.map(({ circle }) => circle)),
    centreLines: centreLinesOf(
      rounds.filter(({ isWhole }) => isWhole).map(({ circle }) => circle),
      faces,
      positions,
      indices,
    ),
  };
}

interface Round {
  circle: Circle;
  points: Vec3[];
  isWhole: boolean;
}

/** The parts of a face's borders that run along a circle. */
function roundsOf({ loops, normal }: BodyFace): Round[] {
  return loops.flatMap((loop): Round[] => {
    const corners = withoutStraight(loop);
    const count = corners.length;
    if (count < LEAST_ON_ROUND) return [];
    const whole = roundThrough(corners, normal);
    if (whole && isEvenlyTurned(corners, true)) return [{ circle: whole, points: corners, isWhole: true }];
    const found: Round[] = [];
    // From every corner as far as the border goes on along one circle.
    for (let start = 0; start + LEAST_ON_ROUND <= count;) {
      let end = start + LEAST_ON_ROUND;
      let best: Circle | null = null;
      while (end <= count) {
        const run = corners.slice(start, end);
        const circle = isEvenlyTurned(run, false) ? roundThrough(run, normal) : null;
        if (!circle) break;
        best = circle;
        end++;
      }
      if (best) {
        found.push({ circle: best, points: corners.slice(start, end - 1), isWhole: false });
        start = end - 2;
      } else start++;
    }
    return found;
  });
}

function roundThrough(points: readonly Vec3[], normal: Vec3): Circle | null {
  const circle = fitCircle(points, normal);
  if (!circle || circle.deviation > Math.max(ROUNDING, 0.005 * circle.radius)) return null;
  return { centre: circle.centre, normal, radius: circle.radius };
}

/** Whether sides are about equally long and turn a little, always the same way. */
function isEvenlyTurned(points: readonly Vec3[], isClosed: boolean): boolean {
  const count = points.length;
  const sides = Array.from({ length: isClosed ? count : count - 1 }, (_, i) =>
    subtract(points[(i + 1) % count]!, points[i]!),
  );
  const lengths = sides.map((side) => Math.hypot(...side));
  if (Math.max(...lengths) > 2.2 * Math.min(...lengths) + 2 * ROUNDING) return false;
  const turns = isClosed ? sides.length : sides.length - 1;
  for (let i = 0; i < turns; i++)
    if (dot(unit(sides[i]!), unit(sides[(i + 1) % sides.length]!)) < Math.cos(MOST_TURN)) return false;
  return true;
}

/** A border without the vertices at which it goes straight on. */
function withoutStraight(loop: readonly Vec3[]): Vec3[] {
  return loop.filter((point, i) => {
    const before = loop[(i + loop.length - 1) % loop.length]!;
    const after = loop[(i + 1) % loop.length]!;
    const along = subtract(after, before);
    const length = Math.hypot(...along);
    if (length === 0) return true;
    return Math.hypot(...cross(subtract(point, before), scale(along, 1 / length))) > ROUNDING / 3;
  });
}

function centreLinesOf(
  circles: readonly Circle[],
  faces: readonly BodyFace[],
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
): Line[] {
  const lines: Line[] = [];
  const add = (a: Vec3, b: Vec3) => {
    const isKnown = lines.some(
      ([from, to]) =>
        (distance(a, from) < 2 * ROUNDING && distance(b, to) < 2 * ROUNDING) ||
        (distance(a, to) < 2 * ROUNDING && distance(b, from) < 2 * ROUNDING),
    );
    if (!isKnown) lines.push([a, b]);
  };
  circles.forEach((one, i) => {
    // A round body ends in two equal circles that face away from each other on one axis.
    let farthest: Circle | null = null;
    for (const other of circles.slice(i + 1)) {
      if (Math.abs(one.radius - other.radius) > ROUNDING || dot(one.normal, other.normal) > -PARALLEL) continue;
      const between = subtract(other.centre, one.centre);
      const length = Math.hypot(...between);
      const aside = Math.hypot(...cross(between, one.normal));
      if (length < ROUNDING || aside > 2 * ROUNDING + 0.02 * length) continue;
      if (!farthest || length > distance(farthest.centre, one.centre)) farthest = other;
    }
    if (farthest) add(one.centre, farthest.centre);
  });
  if (lines.length > 0) return lines;
  const prism = prismAxis(faces, positions, indices);
  return prism ? [prism] : [];
}

/** The line through the middles of the two ends of a long prism; null for any other body. */
function prismAxis(
  faces: readonly BodyFace[],
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
): [Vec3, Vec3] | null {
  let best: [Vec3, Vec3] | null = null;
  for (const [i, one] of faces.entries())
    for (const other of faces.slice(i + 1)) {
      if (dot(one.normal, other.normal) > -PARALLEL || Math.abs(one.area - other.area) > 0.03 * one.area) continue;
      const between = subtract(other.centre, one.centre);
      const length = Math.hypot(...between);
      const isLonger = !best || length > distance(...best);
      if (!isLonger || Math.hypot(...cross(between, one.normal)) > 2 * ROUNDING + 0.01 * length) continue;
      if (length < LONG * Math.sqrt(one.area)) continue;
      if (allOnEnds(one.centre, unit(between), length, positions, indices)) best = [one.centre, other.centre];
    }
  return best;
}

/** Whether all vertices lie at one of the two ends, as they do on a prism. */
function allOnEnds(
  from: Vec3,
  direction: Vec3,
  length: number,
  positions: ArrayLike<number>,
  indices: ArrayLike<number>,
): boolean {
  for (let i = 0; i < indices.length; i++) {
    const vertex = indices[i]! * 3;
    const along =
      (positions[vertex]! - from[0]) * direction[0] +
      (positions[vertex + 1]! - from[1]) * direction[1] +
      (positions[vertex + 2]! - from[2]) * direction[2];
    // The ends may be cut at a slant a little.
    if (Math.min(Math.abs(along), Math.abs(along - length)) > 2 * ROUNDING + 0.02 * length) return false;
  }
  return true;
}

function distinctCircles(circles: readonly Circle[]): Circle[] {
  const out: Circle[] = [];
  for (const circle of circles)
    if (
      !out.some(
        (one) => distance(one.centre, circle.centre) < ROUNDING && Math.abs(one.radius - circle.radius) < ROUNDING,
      )
    )
      out.push(circle);
  return out;
}

function placeKey(point: Vec3): string {
  return point.map((value) => Math.round(value * 1e5)).join(' ');
}

function edgeKey(a: Vec3, b: Vec3): string {
  const [one, other] = [placeKey(a), placeKey(b)];
  return one < other ? `${one}|${other}` : `${other}|${one}`;
}
