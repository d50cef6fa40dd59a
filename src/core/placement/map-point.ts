import type { Vec3 } from '../math/mat4';
import type { Georeference } from '../project/publish-report';
import { isOnMap, placePoint, unplacePoint, type Placement } from './placement';

/** A place on the map. */
export interface MapPoint {
  /** Eastings, northings and height, metres. */
  at: Vec3;
  /** Name of the map, such as `EPSG:25832`; empty where the file does not say. */
  crs: string;
}

/**
 * Where a place of the project is on the map, by the first model that says where it is (IfcMapConversion).
 *
 * @param point project coordinates, metres
 * @returns null where no model says so
 */
export function mapPoint(
  models: readonly { placement: Placement; georeference: Georeference | null }[],
  point: Vec3,
): MapPoint | null {
  const home = models.find(({ georeference }) => isOnMap(georeference));
  const georeference = home?.georeference ?? null;
  if (!home || !isOnMap(georeference)) return null;
  const { eastings, northings, orthogonalHeight = 0, mapTurn = 0, crs = '' } = georeference;
  const own = unplacePoint(home.placement, point);
  return { at: placePoint({ turn: mapTurn, offset: [eastings, northings, orthogonalHeight] }, own), crs };
}
