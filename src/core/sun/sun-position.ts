import { Body, Equator, Horizon, Observer } from 'astronomy-engine';

/** A place on the earth. */
export interface EarthPlace {
  /** Degrees, north positive. */
  latitude: number;
  /** Degrees, east positive. */
  longitude: number;
}

/** Where the sun stands, as it is seen: lifted by the air near the horizon. Degrees. */
export interface SunPosition {
  /** Clockwise from true north, 0 to 360. */
  azimuth: number;
  /** Of its middle above the horizon; negative below. */
  elevation: number;
}

/** Where the sun is seen from a place at a moment; within a hundredth of a degree of the solar position algorithm's values. */
export function sunAt({ latitude, longitude }: EarthPlace, at: Date): SunPosition {
  const observer = new Observer(latitude, longitude, 0);
  const { ra, dec } = Equator(Body.Sun, at, observer, true, true);
  const { azimuth, altitude } = Horizon(at, observer, ra, dec, 'normal');
  return { azimuth, elevation: altitude };
}

/** The direction in words: one of sixteen. @param azimuth degrees clockwise from north */
export function directionWords(azimuth: number): string {
  return DIRECTIONS[Math.round(azimuth / 22.5) % DIRECTIONS.length]!;
}

const DIRECTIONS = [
  'north',
  'north-north-east',
  'north-east',
  'east-north-east',
  'east',
  'east-south-east',
  'south-east',
  'south-south-east',
  'south',
  'south-south-west',
  'south-west',
  'west-south-west',
  'west',
  'west-north-west',
  'north-west',
  'north-north-west',
];
