import { describe, expect, it } from 'vitest';
import { directionWords, sunAt } from './sun-position';

const DEGREE = Math.PI / 180;
/** Bennett's formula for the air's refraction (G. G. Bennett, 1982), degrees, by the true elevation after Meeus, chapter 16. */
const refraction = (elevation: number) => 1.02 / Math.tan((elevation + 10.3 / (elevation + 5.11)) * DEGREE) / 60;

describe('the sun', () => {
  it('stands where the example of the solar position algorithm says', () => {
    // I. Reda, A. Andreas, Solar Position Algorithm for Solar Radiation Applications, NREL/TP-560-34302, 2008, table A5.1:
    // 17 October 2003, 12:30:30 at UTC−7; zenith 50.11162°, azimuth 194.34024°.
    const { azimuth, elevation } = sunAt(
      { latitude: 39.742476, longitude: -105.1786 },
      new Date('2003-10-17T12:30:30-07:00'),
    );
    expect(Math.abs(azimuth - 194.34024)).toBeLessThan(0.01);
    expect(Math.abs(elevation - (90 - 50.11162))).toBeLessThan(0.01);
  });

  it('circles at its declination at the pole', () => {
    // J. Meeus, Astronomical Algorithms, 1998, example 25.b: 13 October 1992, 0h dynamical time, declination −7°47′01.74″.
    const at = new Date('1992-10-12T23:59:01Z');
    const declination = -(7 + 47 / 60 + 1.74 / 3600);
    const { elevation } = sunAt({ latitude: -90, longitude: 0 }, at);
    expect(Math.abs(elevation - (-declination + refraction(-declination)))).toBeLessThan(0.01);
  });

  it('is highest in the south of the north and in the north of the south, and the same on both sides of noon', () => {
    const highest = (latitude: number) => {
      const all = Array.from({ length: 288 }, (_, i) =>
        sunAt({ latitude, longitude: 0 }, new Date(Date.UTC(2026, 2, 20, 0, 5 * i))),
      );
      return all.reduce((best, one) => (one.elevation > best.elevation ? one : best));
    };
    expect(Math.abs(highest(51).azimuth - 180)).toBeLessThan(2);
    expect(Math.abs(highest(51).elevation - 39)).toBeLessThan(0.5); // at the equinox 90° less the latitude
    const south = highest(-33).azimuth;
    expect(Math.min(south, 360 - south)).toBeLessThan(2);
    expect(Math.abs(highest(-33).elevation - 57)).toBeLessThan(0.5);
  });

  it('does not set in the polar summer and does not rise in the polar winter', () => {
    const elevations = (month: number) =>
      Array.from(
        { length: 24 },
        (_, hour) => sunAt({ latitude: 78.2, longitude: 15.6 }, new Date(Date.UTC(2026, month, 21, hour))).elevation,
      );
    expect(Math.min(...elevations(5))).toBeGreaterThan(10);
    expect(Math.max(...elevations(11))).toBeLessThan(-10);
  });

  it('is named by its direction', () => {
    expect([0, 22, 95, 181, 359].map(directionWords)).toEqual(['north', 'north-north-east', 'east', 'south', 'north']);
  });
});
