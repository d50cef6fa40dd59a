import { describe, expect, it } from 'vitest';
import { mapPlace } from '@/core/sun/find-site';
import { mapGrid } from './map-grid';

/** Where the grids of some countries have a point that everybody knows: number, its easting and northing, latitude and longitude. */
const KNOWN: [string, string, [number, number], [number, number]][] = [
  ['zone 32 of Europe, its middle on the equator', 'urn:ogc:def:crs:EPSG:9.6.2:25832', [500_000, 0], [0, 9]],
  ['Switzerland, the old observatory of Bern', 'EPSG:2056', [2_600_000, 1_200_000], [46.95108, 7.43864]],
  ['the Netherlands, the tower of Amersfoort', 'epsg 28992', [155_000, 463_000], [52.15517, 5.38721]],
  ['Great Britain, the true origin', '27700', [400_000, -100_000], [49, -2]],
  ['France, the middle of Lambert 93', 'urn:ogc:def:crs:EPSG::2154', [700_000, 6_600_000], [46.5, 3]],
];

describe('the grid of a map', () => {
  it.each(KNOWN)('is known for %s', async (_, crs, [east, north], [latitude, longitude]) => {
    const { place } = mapPlace((await mapGrid(crs))!, east, north)!;
    // Old surveys lie beside new ones by up to 150 m.
    expect(Math.abs(place.latitude - latitude)).toBeLessThan(0.0015);
    expect(Math.abs(place.longitude - longitude)).toBeLessThan(0.0025);
  });

  it('is not guessed, whatever a file says', async () => {
    for (const crs of [undefined, '', 'local', 'EPSG:4326', 'EPSG:99999', '../../2056', 'EPSG:../2056', '123'])
      expect(await mapGrid(crs)).toBeNull();
  });
});
