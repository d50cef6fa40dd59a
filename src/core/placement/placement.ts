import type { Box3 } from '../math/box3';
import { emptyBox, expandByPoint } from '../math/box3';
import type { Vec3 } from '../math/mat4';
import type { Georeference } from '../project/publish-report';
import { normalTurn } from '../math/turn';

/**
 * Where a model stands in its project: first turned about the vertical axis through its own zero, then moved. Never
 * scaled: a metre stays a metre.
 */
export interface Placement {
  /** Radians, counter-clockwise seen from above. */
  turn: number;
  /** Metres. */
  offset: Vec3;
}

export const AS_IN_FILE: Placement = { turn: 0, offset: [0, 0, 0] };

/** How a model finds its place: as its coordinates say, by its georeference, or as somebody has decided. */
export type PlacementChoice = { by: 'file' } | { by: 'georeference' } | ({ by: 'hand' } & Placement);

/** A point of the model's file, in project coordinates. */
export function placePoint({ turn, offset }: Placement, [x, y, z]: Vec3): Vec3 {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return [c * x - s * y + offset[0], s * x + c * y + offset[1], z + offset[2]];
}

/** The point of the file that stands at a point of the project. */
export function unplacePoint({ turn, offset }: Placement, point: Vec3): Vec3 {
  const [x, y, z] = point.map((value, axis) => value - offset[axis]!) as Vec3;
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return [c * x + s * y, -s * x + c * y, z];
}

/** The box around a placed box. */
export function placeBox(placement: Placement, box: Box3): Box3 {
  const placed = emptyBox();
  for (const x of [box[0], box[3]])
    for (const y of [box[1], box[4]])
      for (const z of [box[2], box[5]]) expandByPoint(placed, ...placePoint(placement, [x, y, z]));
  return placed;
}

/** Brings one point of the file to a point of the project, and keeps the turn. */
export function fitOnePoint(turn: number, from: Vec3, to: Vec3): Placement {
  const turned = placePoint({ turn, offset: [0, 0, 0] }, from);
  return { turn, offset: to.map((value, axis) => value - turned[axis]!) as Vec3 };
}

export interface TwoPointFit {
  placement: Placement;
  /** By how much the distance of the two targets differs from that of the two points, in metres. */
  misfit: number;
}

/**
 * Brings two points of the file to two points of the project as well as a turn about the vertical and a move can: the
 * directions agree in plan, the middles coincide. That is the least-squares solution for two points.
 *
 * @throws RangeError if two of the points stand above one another, so that they give no direction
 */
export function fitTwoPoints(from: [Vec3, Vec3], to: [Vec3, Vec3]): TwoPointFit {
  const [a, b] = [from, to].map(([p, q]) => [q[0] - p[0], q[1] - p[1]] as const) as [
    readonly [number, number],
    readonly [number, number],
  ];
  if (Math.hypot(...a) < 1e-3 || Math.hypot(...b) < 1e-3)
    throw new RangeError('Two points that stand above one another give no direction. Choose them further apart.');
  const turn = normalTurn(Math.atan2(b[1], b[0]) - Math.atan2(a[1], a[0]));
  const middle = ([p, q]: [Vec3, Vec3]) => p.map((value, axis) => (value + q[axis]!) / 2) as Vec3;
  return {
    placement: fitOnePoint(turn, middle(from), middle(to)),
    misfit: Math.hypot(...a) - Math.hypot(...b),
  };
}

/** Whether a georeference says where on the map a model's zero lies. */
export function isOnMap(georeference: Georeference | null): georeference is Georeference & {
  eastings: number;
  northings: number;
} {
  return georeference?.eastings !== undefined && georeference.northings !== undefined;
}

/**
 * Places a model beside another by what both say of the map (IfcMapConversion): its zero and its x axis on the map are
 * brought into the other's coordinates.
 *
 * @param project the georeference of the model in whose coordinates the project is
 * @returns null if either is not on the map, or they are on different maps
 */
export function placeByGeoreference(project: Georeference | null, model: Georeference | null): Placement | null {
  if (!isOnMap(project) || !isOnMap(model)) return null;
  if (project.crs && model.crs && project.crs !== model.crs) return null;
  const onMap = (georeference: typeof project): Placement => ({
    turn: georeference.mapTurn ?? 0,
    offset: [georeference.eastings!, georeference.northings!, georeference.orthogonalHeight ?? 0],
  });
  const home = onMap(project);
  const there = onMap(model);
  return { turn: normalTurn(there.turn - home.turn), offset: unplacePoint(home, there.offset) };
}
