import type { Vec3 } from '../math/mat4';
import { POINTS_OF, type Measure, type MeasureKind } from './measures';

/** A place that somebody named for a measure. */
export interface NamedPlace {
  point: Vec3;
  /** Of the surface there, of length 1; null where there is none. */
  normal: Vec3 | null;
}

/** Kinds that are worked out of what stands around the places, and not only of the places. */
const ASKED = ['elements', 'clear', 'face', 'round', 'height', 'room'] as const;
export type AskedKind = (typeof ASKED)[number];

/** How many places a kind is told; null for as many as one likes. */
export const PLACES_TOLD: Record<MeasureKind, number | null> = {
  distance: 2,
  chain: null,
  area: null,
  angle: 3,
  elements: 2,
  clear: 1,
  face: 1,
  faces: 2,
  round: 1,
  height: 1,
  room: 1,
  place: 1,
};

export function isAsked(kind: MeasureKind): kind is AskedKind {
  return ASKED.some((one) => one === kind);
}

/** A measure of what was named so far; null where that is too little for its kind, or nothing that can be measured. */
export function measureOf(
  kind: Exclude<MeasureKind, AskedKind>,
  id: string,
  places: readonly NamedPlace[],
): Measure | null {
  const points = places.map(({ point }) => point);
  const measure: Measure = { id, name: '', kind, points, normals: [], area: null };
  if (points.length < POINTS_OF[kind].points) return null;
  if (kind !== 'faces') return measure;
  const normals = places.flatMap(({ normal }) => (normal ? [normal] : []));
  return normals.length === 2 ? { ...measure, normals } : null;
}

/** What shows of a measure while it grows: an area begins as a line, an angle as its first arm. */
export function growingMeasure(kind: MeasureKind, id: string, places: readonly NamedPlace[]): Measure | null {
  if (isAsked(kind) || kind === 'place') return null;
  const whole = measureOf(kind, id, places);
  if (whole) return whole;
  return places.length >= 2 && kind !== 'faces' ? measureOf('chain', id, places) : null;
}
