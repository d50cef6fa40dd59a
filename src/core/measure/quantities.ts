import type { Vec3 } from '../math/mat4';
import { cross, distance, dot, subtract, unit } from '../math/vec3';
import { angleText, areaText, lengthText, type Reading } from '../units/figures';
import { KIND_WORDS, type Measure } from './measures';

/** One thing that a measure says. */
export interface Quantity {
  name: string;
  /** Metres, square metres or radians. */
  value: number;
  of: 'length' | 'area' | 'angle';
}

/** Faces of which the planes turn by less than this have a distance. */
const PARALLEL = (0.5 * Math.PI) / 180;

/** What a measure says, the first of it first. */
export function quantitiesOf({ kind, points, normals, area }: Measure): Quantity[] {
  const length = (name: string, value: number): Quantity => ({ name, value, of: 'length' });
  const [a, b, c] = points as [Vec3, Vec3, Vec3];
  switch (kind) {
    case 'distance':
    case 'elements':
    case 'clear':
    case 'height':
      return [length(KIND_WORDS[kind], distance(a, b)), ...runs(a, b)];
    case 'chain':
      return [length('Length', chainLength(points)), ...legs(points)];
    case 'area':
    case 'room':
      return [
        { name: 'Area', value: polygonArea(points), of: 'area' },
        length('Around', chainLength([...points, points[0]!])),
      ];
    case 'face':
      return [{ name: 'Area', value: area ?? 0, of: 'area' }];
    case 'angle': {
      const value = angleBetween(subtract(a, b), subtract(c, b));
      return [
        { name: 'Angle', value, of: 'angle' },
        length('First arm', distance(a, b)),
        length('Second arm', distance(b, c)),
      ];
    }
    case 'faces': {
      const [one, other] = normals as [Vec3, Vec3];
      const turn = angleBetween(one, other);
      const value = Math.min(turn, Math.PI - turn);
      const angle: Quantity = { name: 'Angle', value, of: 'angle' };
      if (value > PARALLEL) return [angle, { name: 'The other way', value: Math.PI - value, of: 'angle' }];
      return [angle, length('Apart', Math.abs(dot(subtract(b, a), one)))];
    }
    case 'round':
      return [length('Radius', distance(a, b)), length('Diameter', 2 * distance(a, b))];
    case 'place':
      return [length('x', a[0]), length('y', a[1]), length('z', a[2])];
  }
}

/** A quantity as a person reads it. */
export function quantityText({ value, of }: Quantity, reading: Reading): string {
  if (of === 'length') return lengthText(value, reading);
  return of === 'area' ? areaText(value, reading) : angleText(value);
}

/** What stands on the card of a measure. */
export function cardText(measure: Measure, reading: Reading): string {
  const quantities = quantitiesOf(measure);
  if (measure.kind === 'place') return quantities.map((one) => `${one.name} ${quantityText(one, reading)}`).join('  ');
  const [first, second] = quantities;
  const text = quantityText(first!, reading);
  if (measure.kind === 'round') return `R ${text}`;
  return measure.kind === 'faces' && second?.name === 'Apart'
    ? `${text}, ${quantityText(second, reading)} apart`
    : text;
}

/** Area of a polygon in space: of its shadow in its mean plane, by Newell's method. Square metres. */
export function polygonArea(points: readonly Vec3[]): number {
  const sum: Vec3 = [0, 0, 0];
  const origin = points[0]!;
  for (let i = 1; i + 1 < points.length; i++) {
    const across = cross(subtract(points[i]!, origin), subtract(points[i + 1]!, origin));
    for (let axis = 0; axis < 3; axis++) sum[axis]! += across[axis]!;
  }
  return Math.hypot(...sum) / 2;
}

function chainLength(points: readonly Vec3[]): number {
  return points.slice(1).reduce((sum, point, i) => sum + distance(points[i]!, point), 0);
}

function legs(points: readonly Vec3[]): Quantity[] {
  if (points.length < 3) return [];
  return points
    .slice(1)
    .map((point, i): Quantity => ({ name: `Part ${i + 1}`, value: distance(points[i]!, point), of: 'length' }));
}

/** How far apart two places are along each axis, on the level, and how much the second lies higher. */
function runs(a: Vec3, b: Vec3): Quantity[] {
  const [x, y, z] = subtract(b, a);
  return [
    { name: 'x', value: Math.abs(x), of: 'length' },
    { name: 'y', value: Math.abs(y), of: 'length' },
    { name: 'z', value: Math.abs(z), of: 'length' },
    { name: 'Level', value: Math.hypot(x, y), of: 'length' },
    { name: 'Rise', value: z, of: 'length' },
  ];
}

/** By the arc tangent, which is exact also for small angles. Radians, 0..π. */
function angleBetween(a: Vec3, b: Vec3): number {
  const [u, v] = [unit(a), unit(b)];
  return Math.atan2(Math.hypot(...cross(u, v)), dot(u, v));
}
