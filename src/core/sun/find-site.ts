import proj4 from 'proj4';
import tzLookup from '@photostructure/tz-lookup';
import { isOnMap, type Placement } from '../placement/placement';
import type { Georeference } from '../project/publish-report';
import type { EarthPlace } from './sun-position';
import type { SunSite } from './sun-site';

/** Metres along which the direction of true north is taken on a map. */
const STEP = 100;

/**
 * Where a model says that its project stands: by latitude and longitude, or by its place on a map of which the grid is known.
 *
 * @returns null where it does neither
 */
export function siteOf(georeference: Georeference | null, placement: Placement): SunSite | null {
  if (!georeference) return null;
  const { latitude, longitude, trueNorth, crs } = georeference;
  const onMap = isOnMap(georeference) ? mapPlace(crs ?? '', georeference.eastings, georeference.northings) : null;
  const place = latitude !== undefined && longitude !== undefined ? { latitude, longitude } : onMap?.place;
  if (!place || !(Math.abs(place.latitude) <= 90) || !(Math.abs(place.longitude) <= 180)) return null;
  const fromMap = onMap ? onMap.north - (georeference.mapTurn ?? 0) : 0;
  return {
    ...place,
    timeZone: tzLookup(place.latitude, place.longitude),
    north: (trueNorth ?? fromMap) + placement.turn,
  };
}

/**
 * A place on a map on the earth, and the turn from the map's north to true north, counter-clockwise, in radians.
 *
 * @returns null where the grid is not known
 */
export function mapPlace(
  crs: string,
  eastings: number,
  northings: number,
): { place: EarthPlace; north: number } | null {
  const grid = gridOf(crs);
  if (!grid) return null;
  const [longitude, latitude] = proj4(grid, 'WGS84', [eastings, northings]) as [number, number];
  if (!Number.isFinite(latitude) || !Number.isFinite(longitude)) return null;
  const [x, y] = proj4('WGS84', grid, [longitude, latitude + STEP / 111_000]) as [number, number];
  return { place: { latitude, longitude }, north: -Math.atan2(x - eastings, y - northings) };
}

/** The grids that need no table: Universal Transverse Mercator on WGS 84 and ETRS89. */
function gridOf(crs: string): string | null {
  const code = Number(/(?:EPSG\D*)?(\d{4,5})$/i.exec(crs.trim())?.[1] ?? NaN);
  const zone = code % 100;
  if (zone < 1 || zone > 60) return null;
  const base = Math.floor(code / 100);
  if (base === 326 || base === 258) return `+proj=utm +zone=${zone} +datum=WGS84 +units=m`;
  if (base === 327) return `+proj=utm +zone=${zone} +south +datum=WGS84 +units=m`;
  return null;
}
