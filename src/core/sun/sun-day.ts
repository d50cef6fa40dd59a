import { Body, Observer, SearchRiseSet } from 'astronomy-engine';
import { DAY_MINUTES } from './calendar';
import { localTimeAt, momentOf } from './local-time';
import { sunAt, type SunPosition } from './sun-position';
import type { SunSite } from './sun-site';

/** The sun's way on one day. */
export interface SunDay {
  /** When its upper rim comes up and goes down, in minutes since midnight as clocks show them; null where it does not. */
  rises: number | null;
  sets: number | null;
  /** What there is instead of a sunrise. */
  kind: 'day' | 'polar-day' | 'polar-night';
}

const MINUTE = 60_000;

/** @param date such as 2026-12-21, at the site */
export function sunDay(site: SunSite, date: string): SunDay {
  const start = momentOf({ date, minutes: 0 }, site.timeZone);
  const observer = new Observer(site.latitude, site.longitude, 0);
  const found = (direction: 1 | -1) => {
    const at = SearchRiseSet(Body.Sun, observer, direction, start, 1);
    return at && localTimeAt(at.date, site.timeZone).minutes + (at.date.getTime() % MINUTE) / MINUTE;
  };
  const [rises, sets] = [found(1), found(-1)];
  const noon = sunAt(site, new Date(start.getTime() + (DAY_MINUTES / 2) * MINUTE));
  const kind = rises === null && sets === null ? (noon.elevation > 0 ? 'polar-day' : 'polar-night') : 'day';
  return { rises, sets, kind };
}

/** Where the sun stands at each of some minutes of a day, as clocks show them. */
export function sunPath(site: SunSite, date: string, minutes: readonly number[]): SunPosition[] {
  const start = momentOf({ date, minutes: 0 }, site.timeZone).getTime();
  const end = momentOf({ date, minutes: DAY_MINUTES }, site.timeZone).getTime();
  // Only where clocks are changed has a day other than 24 hours.
  const isPlain = end - start === DAY_MINUTES * MINUTE;
  return minutes.map((minute) =>
    sunAt(site, isPlain ? new Date(start + minute * MINUTE) : momentOf({ date, minutes: minute }, site.timeZone)),
  );
}
