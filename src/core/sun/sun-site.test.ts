import { describe, expect, it } from 'vitest';
import { AS_IN_FILE } from '../placement/placement';
import { mapPlace, siteOf } from './find-site';
import { clock, isDate } from './calendar';
import { isTimeZone, localTimeAt, momentOf } from './local-time';
import { sunDay, sunPath } from './sun-day';
import { sunAt } from './sun-position';
import { sunDirection, type SunSite } from './sun-site';
import { timeZoneAt } from './time-zone-at';

const degrees = (radians: number) => (radians * 180) / Math.PI;

describe('local time', () => {
  it('is what clocks show, in summer and in winter', () => {
    expect(momentOf({ date: '2026-07-01', minutes: 720 }, 'Europe/Paris').toISOString()).toBe(
      '2026-07-01T10:00:00.000Z',
    );
    expect(momentOf({ date: '2026-12-21', minutes: 16 * 60 }, 'Europe/Paris').toISOString()).toBe(
      '2026-12-21T15:00:00.000Z',
    );
    expect(momentOf({ date: '2026-01-10', minutes: 90 }, 'Asia/Kolkata').toISOString()).toBe(
      '2026-01-09T20:00:00.000Z',
    );
    expect(localTimeAt(new Date('2026-12-21T15:05:00Z'), 'Europe/Paris')).toEqual({ date: '2026-12-21', minutes: 965 });
    expect(clock(965)).toBe('16:05');
  });

  it('knows what is no day and no zone', () => {
    expect(['2026-02-29', '2024-02-29', '2026-13-01', 'today', '1066-10-14'].map(isDate)).toEqual([false, true, false, false, false]); // prettier-ignore
    expect(['Europe/Paris', 'Moon/Tranquility'].map(isTimeZone)).toEqual([true, false]);
  });
});

/** Sunrise and sunset as national almanac offices print them. */
describe('a day of the sun', () => {
  const site = (latitude: number, longitude: number, timeZone: string): SunSite => ({ latitude, longitude, timeZone, north: 0 }); // prettier-ignore
  it.each([
    // Greenwich, midsummer and midwinter: 04:43 to 21:21 summer time, 08:04 to 15:53 (HM Nautical Almanac Office).
    ['Greenwich', site(51.4779, 0, 'Europe/London'), '2024-06-20', 4 * 60 + 43, 21 * 60 + 21],
    ['Greenwich', site(51.4779, 0, 'Europe/London'), '2024-12-21', 8 * 60 + 4, 15 * 60 + 53],
    // Sydney at its midsummer: 05:41 to 20:05 (Geoscience Australia).
    ['Sydney', site(-33.8688, 151.2093, 'Australia/Sydney'), '2024-12-21', 5 * 60 + 41, 20 * 60 + 5],
  ])('begins and ends in %s on time', (_, place, date, rises, sets) => {
    const day = sunDay(place, date);
    expect(Math.abs(day.rises! - rises)).toBeLessThan(2);
    expect(Math.abs(day.sets! - sets)).toBeLessThan(2);
    expect(day.kind).toBe('day');
  });

  it('does not end or does not begin beyond the polar circle', () => {
    const tromsø = site(69.6492, 18.9553, 'Europe/Oslo');
    expect(sunDay(tromsø, '2026-06-21')).toEqual({ rises: null, sets: null, kind: 'polar-day' });
    expect(sunDay(tromsø, '2026-12-21')).toEqual({ rises: null, sets: null, kind: 'polar-night' });
  });

  it('is told by clocks also on the day on which they are changed', () => {
    const berlin = site(52.52, 13.405, 'Europe/Berlin');
    // From one day to the next the sun rises two minutes earlier in March, and clocks are put forward by an hour.
    const [before, after] = ['2026-03-28', '2026-03-29'].map((date) => sunDay(berlin, date));
    expect(Math.abs(after!.rises! - before!.rises! - 58)).toBeLessThan(1.5);
    expect(Math.abs(after!.sets! - before!.sets! - 62)).toBeLessThan(1.5);
    const [morning, noon] = sunPath(berlin, '2026-03-29', [60, 13 * 60]);
    expect(morning).toEqual(sunAt(berlin, new Date('2026-03-29T01:00:00+01:00')));
    expect(noon).toEqual(sunAt(berlin, new Date('2026-03-29T13:00:00+02:00')));
  });

  it('has the sun in the south at noon north of the tropics, in the north south of them', () => {
    const [north] = sunPath(site(50, 0, 'UTC'), '2026-03-20', [727]);
    const [south] = sunPath(site(-35, 0, 'UTC'), '2026-03-20', [727]);
    expect(Math.abs(north!.azimuth - 180)).toBeLessThan(1.5);
    expect(Math.min(south!.azimuth, 360 - south!.azimuth)).toBeLessThan(1.5);
    // At the equinox it stands as high as the equator: 90° less the latitude.
    expect(Math.abs(north!.elevation - 40)).toBeLessThan(0.5);
  });
});

describe('the direction to the sun', () => {
  it('turns with true north', () => {
    const south = sunDirection({ azimuth: 180, elevation: 0 }, 0);
    expect(south.map((part) => Math.round(part * 1e9) / 1e9 + 0)).toEqual([0, -1, 0]);
    // True north lies a quarter to the left of the project's +Y: at -X. What comes from the south comes from +X.
    const turned = sunDirection({ azimuth: 180, elevation: 0 }, Math.PI / 2);
    expect(turned.map((part) => Math.round(part * 1e9) / 1e9 + 0)).toEqual([1, 0, 0]);
    expect(sunDirection({ azimuth: 90, elevation: 30 }, 0)[0]).toBeCloseTo(Math.cos(Math.PI / 6), 9);
  });
});

const ZONE_32 = '+proj=utm +zone=32 +ellps=GRS80 +units=m';
const ZONE_19_SOUTH = '+proj=utm +zone=19 +south +datum=WGS84 +units=m';

describe('a site', () => {
  it('is known by latitude and longitude, with its zone and its north', () => {
    const site = siteOf({ latitude: 51.5556, longitude: 7.59, trueNorth: 0.1 }, { ...AS_IN_FILE, turn: 0.2 }, null)!;
    expect(site.timeZone).toBe('Europe/Berlin');
    expect(site.north).toBeCloseTo(0.3, 12);
  });

  it('is known by its place on a map; grid north is not true north beside the middle of a zone', () => {
    // Zone 32's middle lies at 9° east, where its eastings are 500 000 by definition.
    const middle = mapPlace(ZONE_32, 500_000, 5_700_000)!;
    expect(middle.place.longitude).toBeCloseTo(9, 9);
    expect(Math.abs(middle.north)).toBeLessThan(1e-6);
    // Convergence is about (longitude - 9°) · sin(latitude).
    const { place, north } = mapPlace(ZONE_32, 402_180, 5_712_440)!;
    const expected = (place.longitude - 9) * Math.sin((place.latitude * Math.PI) / 180);
    expect(Math.abs(degrees(north) - expected)).toBeLessThan(0.01);
    const santiago = siteOf({ eastings: 346_000, northings: 6_297_000 }, AS_IN_FILE, ZONE_19_SOUTH)!;
    expect(santiago.timeZone).toBe('America/Santiago');
  });

  it('is not guessed', () => {
    expect(siteOf(null, AS_IN_FILE, ZONE_32)).toBeNull();
    expect(siteOf({ trueNorth: 1 }, AS_IN_FILE, ZONE_32)).toBeNull();
    expect(siteOf({ crs: 'EPSG:31467', eastings: 3_500_000, northings: 5_700_000 }, AS_IN_FILE, null)).toBeNull();
    expect(siteOf({ latitude: 500, longitude: 7 }, AS_IN_FILE, null)).toBeNull();
    // Noughts are what programs write that do not know; the map then counts.
    expect(siteOf({ latitude: 0, longitude: 0 }, AS_IN_FILE, null)).toBeNull();
    expect(siteOf({ latitude: 0, longitude: 0, eastings: 346_000, northings: 6_297_000 }, AS_IN_FILE, ZONE_19_SOUTH)!.timeZone).toBe('America/Santiago'); // prettier-ignore
    expect(timeZoneAt({ latitude: 40.7, longitude: -74 })).toBe('America/New_York');
    expect(timeZoneAt({ latitude: NaN, longitude: 0 })).toBeNull();
  });
});
