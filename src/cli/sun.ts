import { isCalendarDay } from '@/core/sun/calendar';
import { directionWords, sunAt } from '@/core/sun/sun-position';
import { ModelFileError } from '@/formats/model-file-error';
import { withOneLineErrors } from './one-line-errors';

export interface SunOptions {
  /** Degrees, north positive. */
  lat: string;
  /** Degrees, east positive. */
  lon: string;
  /** A moment as in ISO 8601, with its zone. */
  at: string;
  json?: boolean;
}

/** With its zone: a moment without one would mean another in every office. */
const MOMENT = /^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}(:\d{2}(\.\d+)?)?(Z|[+-]\d{2}:?\d{2})$/;

/**
 * `yurta sun --lat N --lon E --at ISO`: where the sun stands: its azimuth clockwise from true north and its apparent elevation, degrees.
 *
 * @returns the exit code: 0, or 2 if an option is wrong
 */
export async function sun({ lat, lon, at, json }: SunOptions): Promise<number> {
  return withOneLineErrors('sun', () => {
    const place = { latitude: degrees('--lat', lat, 90), longitude: degrees('--lon', lon, 180) };
    const moment = new Date(at);
    if (!MOMENT.test(at) || Number.isNaN(moment.getTime()) || !isCalendarDay(at.slice(0, 10)))
      throw new ModelFileError(
        'damaged',
        `“${at}” is no moment. Give it as ISO 8601 with its zone, such as 2026-12-21T16:00:00+01:00.`,
      );
    const { azimuth, elevation } = sunAt(place, moment);
    if (json) console.log(JSON.stringify({ azimuth, elevation }));
    else
      console.log(
        `${directionWords(azimuth)}, ${azimuth.toFixed(2)}° from north; ${Math.abs(elevation).toFixed(2)}° ${elevation < 0 ? 'below' : 'above'} the horizon`,
      );
    return Promise.resolve();
  });
}

function degrees(option: string, text: string, most: number): number {
  const value = text.trim() === '' ? NaN : Number(text);
  if (!(Math.abs(value) <= most))
    throw new ModelFileError('damaged', `${option} takes degrees from -${most} to ${most}; “${text}” is none.`);
  return value;
}
