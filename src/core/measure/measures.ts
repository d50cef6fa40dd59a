import type { Vec3 } from '../math/mat4';

/** What can be measured. */
export const MEASURE_KINDS = [
  'distance',
  'chain',
  'area',
  'angle',
  'elements',
  'clear',
  'face',
  'faces',
  'round',
  'height',
  'room',
  'place',
] as const;
export type MeasureKind = (typeof MEASURE_KINDS)[number];

/**
 * Something measured. Its points say all of it, so that what is read of it is worked out anew wherever it shows; only a face,
 * which may be curved, says its area. Project coordinates, metres.
 */
export interface Measure {
  /** Tells it from the others of the same view. */
  id: string;
  /** As somebody called it; empty where nobody has. */
  name: string;
  kind: MeasureKind;
  /**
   * `distance`, `elements`, `clear`, `height`: its two ends. `chain`: its corners. `area`, `room`: the corners of a polygon. `angle`: an
   * arm, the vertex, the other arm. `face`: a place on it, then its outline. `faces`: a place on each. `round`: the centre and a
   * place on the circle. `place`: the place.
   */
  points: readonly Vec3[];
  /** Of the two `faces`, or of the plane of a `round`; of length 1. */
  normals: readonly Vec3[];
  /** Square metres of a `face`; null for all others. */
  area: number | null;
}

export const MOST_MEASURES = 200;
export const MOST_POINTS = 500;

/** How many points and normals a measure of a kind has, at least; more only where they are many. */
export const POINTS_OF: Record<MeasureKind, { points: number; isMany: boolean; normals: number }> = {
  distance: { points: 2, isMany: false, normals: 0 },
  chain: { points: 2, isMany: true, normals: 0 },
  area: { points: 3, isMany: true, normals: 0 },
  angle: { points: 3, isMany: false, normals: 0 },
  elements: { points: 2, isMany: false, normals: 0 },
  clear: { points: 2, isMany: false, normals: 0 },
  face: { points: 1, isMany: true, normals: 0 },
  faces: { points: 2, isMany: false, normals: 2 },
  round: { points: 2, isMany: false, normals: 1 },
  height: { points: 2, isMany: false, normals: 0 },
  room: { points: 3, isMany: true, normals: 0 },
  place: { points: 1, isMany: false, normals: 0 },
};

/** What a kind is called where somebody has given no name. */
export const KIND_WORDS: Record<MeasureKind, string> = {
  distance: 'Distance',
  chain: 'Length',
  area: 'Area',
  angle: 'Angle',
  elements: 'Between elements',
  clear: 'Clear width',
  face: 'Area of a face',
  faces: 'Angle of faces',
  round: 'Radius',
  height: 'Height above the floor',
  room: 'Room',
  place: 'Place',
};

/** Whether a measure has all that its kind needs. */
export function isWhole({ kind, points, normals, area }: Measure): boolean {
  const need = POINTS_OF[kind];
  const hasPoints = need.isMany ? points.length >= need.points : points.length === need.points;
  return hasPoints && normals.length === need.normals && (kind === 'face') === (area !== null);
}

/** An id that no other of the measures has. */
export function freeMeasureId(measures: readonly Measure[]): string {
  for (let i = measures.length + 1; ; i++) if (!measures.some(({ id }) => id === `measure ${i}`)) return `measure ${i}`;
}

/** An outline with so few corners that a measure may hold it with a place beside it. */
export function thinnedOutline(outline: readonly Vec3[]): Vec3[] {
  const step = Math.max(1, Math.ceil(outline.length / (MOST_POINTS - 1)));
  return outline.filter((_, i) => i % step === 0);
}
