import proj4 from 'proj4';
import { isOnMap, type Placement } from '../placement/placement';
import type { Georeference } from '../project/publish-report';
import type { EarthPlace } from './sun-position';
import type { SunSite } from './sun-site';
import { timeZoneAt } from './time-zone-at';

/** Metres along which the direction of true north is taken on a map. */
const STEP = 100;

/**
 * Where a model says that its project stands: by latitude and longitude, or by its place on a map of which the grid is known.
 *
 * @param grid of the map, in the words of PROJ; null where it is not known
 * @returns null where it does neither
 */
export function siteOf(georeference: Georeference | null, placement: Placement, grid: string | null): SunSite | null {
  if (!georeference) return null;
  const { latitude, longitude, trueNorth } = georeference;
  const onMap = isOnMap(georeference) && grid ? mapPlace(grid, georeference.eastings, georeference.northings) : null;
  // Programs write 0, 0 when nobody has told them the place.
  const isTold = latitude !== undefined && longitude !== undefined && (latitude !== 0 || longitude !== 0);
  const place = isTold ? { latitude, longitude } : onMap?.place;
  const timeZone = place && timeZoneAt(place);
  if (!timeZone) return null;
  const fromMap = onMap ? onMap.north - (georeference.mapTurn ?? 0) : 0;
  return {
    ...place,
    timeZone,
    north: (trueNorth ?? fromMap) + placement.turn,
  };
}

/**
 * A place on a map on the earth, and the turn from the map's north to true north, counter-clockwise, in radians.
 *
 * @param grid in the words of PROJ, in metres
 * @returns null for a place that the map does not have
 */
export function mapPlace(
  grid: string,
  eastings: number,
  northings: number,
): { place: EarthPlace; north: number } | null {
  const [longitude, latitude] = proj4(grid, 'WGS84', [eastings, northings]) as [number, number];
  if (!Number.isFinite(latitude) || !Number.isFinite(longitude)) return null;
  const [x, y] = proj4('WGS84', grid, [longitude, latitude + STEP / 111_000]) as [number, number];
  return { place: { latitude, longitude }, north: -Math.atan2(x - eastings, y - northings) };
}
