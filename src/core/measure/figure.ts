import type { Vec3 } from '../math/mat4';
import { add, cross, distance, dot, mix, scale, subtract, unit } from '../math/vec3';
import type { Measure } from './measures';

/** How a measure is drawn, in space: project coordinates, metres. */
export interface MeasureFigure {
  /** Lines with a tick at each corner, as dimension lines have. */
  dimensions: Vec3[][];
  /** Thin lines without ticks: arcs, circles, borders. */
  leaders: Vec3[][];
  /** Areas that are tinted. */
  fills: Vec3[][];
  /** Single places. */
  dots: Vec3[];
  /** Beside what its card stands: a place, or the middle of what is seen of the first dimension. */
  card: Vec3 | 'dimension';
}

const ARC_STEPS = 24;
const CIRCLE_STEPS = 64;
/** An arc lies so far along the shorter arm. */
const ARC_SHARE = 0.35;
/** Metres: the meeting line of two faces that is farther away is not drawn. */
const FARTHEST_MEETING = 100;

export function measureFigure({ kind, points, normals }: Measure): MeasureFigure {
  const none: MeasureFigure = { dimensions: [], leaders: [], fills: [], dots: [], card: 'dimension' };
  const [a, b, c] = points as [Vec3, Vec3, Vec3];
  switch (kind) {
    case 'distance':
    case 'elements':
    case 'clear':
    case 'height':
    case 'chain':
      return { ...none, dimensions: [[...points]] };
    case 'area': {
      const loop = [...points, points[0]!];
      return { ...none, dimensions: [loop], fills: [[...points]], card: middleOf(points) };
    }
    case 'room':
      return { ...none, leaders: [[...points, points[0]!]], fills: [[...points]], card: middleOf(points) };
    case 'face': {
      const outline = points.slice(1);
      const leaders = outline.length > 2 ? [[...outline, outline[0]!]] : [];
      return { ...none, leaders, fills: outline.length > 2 ? [outline] : [], dots: [a], card: a };
    }
    case 'angle':
      return { ...none, ...angleFigure(a, b, c) };
    case 'faces':
      return { ...none, ...facesFigure(a, b, normals[0]!, normals[1]!) };
    case 'round':
      return { ...none, dimensions: [[a, b]], leaders: [circleOf(a, b, normals[0]!)], dots: [a] };
    case 'place':
      return { ...none, dots: [a], card: a };
  }
}

function angleFigure(a: Vec3, vertex: Vec3, c: Vec3): Partial<MeasureFigure> {
  const [u, v] = [subtract(a, vertex), subtract(c, vertex)];
  const radius = ARC_SHARE * Math.min(Math.hypot(...u), Math.hypot(...v));
  const arc = arcOf(vertex, unit(u), unit(v), radius);
  return { leaders: [[a, vertex, c], arc], dots: [a, c], card: arc[ARC_STEPS / 2]! };
}

/** The angle where the planes of two faces meet, in the section square to both; between parallel ones their distance. */
function facesFigure(a: Vec3, b: Vec3, one: Vec3, other: Vec3): Partial<MeasureFigure> {
  const along = cross(one, other);
  const foot = subtract(b, scale(one, dot(subtract(b, a), one)));
  if (Math.hypot(...along) < 1e-2) return { dimensions: [[foot, b]], leaders: [[a, foot]], dots: [a] };
  const direction = unit(along);
  const vertex = meetingPoint(a, one, b, other, direction, dot(mix(a, b, 0.5), direction));
  const inSection = (point: Vec3) => add(point, scale(direction, dot(subtract(vertex, point), direction)));
  const [p, q] = [inSection(a), inSection(b)];
  if (distance(vertex, a) > FARTHEST_MEETING || distance(vertex, p) < 1e-6 || distance(vertex, q) < 1e-6)
    return { leaders: [[a, b]], dots: [a, b], card: mix(a, b, 0.5) };
  const figure = angleFigure(p, vertex, q);
  return { ...figure, leaders: [...figure.leaders!, [a, p], [b, q]], dots: [a, b] };
}

/** The point of two planes' common line at a given way along it. */
function meetingPoint(a: Vec3, one: Vec3, b: Vec3, other: Vec3, direction: Vec3, at: number): Vec3 {
  // Cramer's rule for n₁·x = n₁·a, n₂·x = n₂·b, d·x = at.
  const [s, t] = [dot(one, a), dot(other, b)];
  const sum = add(
    add(scale(cross(other, direction), s), scale(cross(direction, one), t)),
    scale(cross(one, other), at),
  );
  return scale(sum, 1 / dot(one, cross(other, direction)));
}

function arcOf(centre: Vec3, from: Vec3, to: Vec3, radius: number): Vec3[] {
  const aside = subtract(to, scale(from, dot(from, to)));
  const across = Math.hypot(...aside) < 1e-9 ? [0, 0, 0] : unit(aside);
  const whole = Math.atan2(Math.hypot(...cross(from, to)), dot(from, to));
  return Array.from({ length: ARC_STEPS + 1 }, (_, i) => {
    const turn = (whole * i) / ARC_STEPS;
    return add(centre, add(scale(from, radius * Math.cos(turn)), scale(across as Vec3, radius * Math.sin(turn))));
  });
}

function circleOf(centre: Vec3, rim: Vec3, normal: Vec3): Vec3[] {
  const x = subtract(rim, centre);
  const y = cross(normal, x);
  return Array.from({ length: CIRCLE_STEPS + 1 }, (_, i) => {
    const turn = (2 * Math.PI * i) / CIRCLE_STEPS;
    return add(centre, add(scale(x, Math.cos(turn)), scale(y, Math.sin(turn))));
  });
}

function middleOf(points: readonly Vec3[]): Vec3 {
  return scale(
    points.reduce((sum, point) => add(sum, point), [0, 0, 0] as Vec3),
    1 / points.length,
  );
}
