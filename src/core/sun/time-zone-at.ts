import tzLookup from '@photostructure/tz-lookup';
import type { EarthPlace } from './sun-position';

/** The time zone that holds at a place, such as Europe/Berlin; null where there is no such place. */
export function timeZoneAt({ latitude, longitude }: EarthPlace): string | null {
  if (!(Math.abs(latitude) <= 90) || !(Math.abs(longitude) <= 180)) return null;
  return tzLookup(latitude, longitude);
}
