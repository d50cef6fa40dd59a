import type { Vec3 } from '../math/mat4';
import { dot } from '../math/vec3';
import { DAY_MINUTES, datePartsOf } from './calendar';
import { sunPath } from './sun-day';
import { sunDirection, type SunSite } from './sun-site';

/** What there is at a place at a time of day. */
export type SunState = 'sun' | 'shade' | 'behind' | 'night';

/** From one minute of a day to the next that is not alike. */
export interface SunSpan {
  from: number;
  to: number;
  /** In the sun; in the shade of something; on a face that looks away from the sun; the sun is down. */
  state: SunState;
  /** What casts the shade. */
  by: string | null;
}

/** Hours of direct sun on one day. */
export interface SunnyDay {
  /** Such as 2026-12-21. */
  date: string;
  hours: number;
  spans: SunSpan[];
}

/** What stands between a place and the sun, by name; null where nothing does. @param direction unit vector to the sun */
export type ShadeOf = (direction: Vec3) => Promise<string | null>;

/** Minutes between two looks at the sun: for a day, and for each day of a year. */
const DAY_STEP = 5;
const YEAR_STEP = 10;
/** Days between two of a year that are looked at. */
const YEAR_DAYS = 5;
/** Steeper than this to a face, light counts as falling on it. */
const GRAZING = 0.005;

/**
 * Direct sun at a place on a day: looked at every five minutes, each standing for the time around it.
 *
 * @param normal of the face at the place, project coordinates; null of a place in the air
 */
export async function sunnyDay(
  site: SunSite,
  date: string,
  normal: Vec3 | null,
  shadeOf: ShadeOf,
  step = DAY_STEP,
): Promise<SunnyDay> {
  const minutes = Array.from({ length: DAY_MINUTES / step }, (_, i) => (i + 0.5) * step);
  const positions = sunPath(site, date, minutes);
  const spans: SunSpan[] = [];
  let sunny = 0;
  for (const [i, position] of positions.entries()) {
    const direction = sunDirection(position, site.north);
    const isUp = position.elevation > 0;
    const isBehind = isUp && normal !== null && dot(normal, direction) <= GRAZING;
    const by = isUp && !isBehind ? await shadeOf(direction) : null;
    const state = !isUp ? 'night' : isBehind ? 'behind' : by === null ? 'sun' : 'shade';
    if (state === 'sun') sunny += step;
    const [from, to] = [i * step, (i + 1) * step];
    const last = spans[spans.length - 1];
    if (last && last.state === state && last.by === by) last.to = to;
    else spans.push({ from, to, state, by });
  }
  return { date, hours: sunny / 60, spans };
}

/** The same over a year, every few days. @param onDay called with each, so that a chart grows */
export async function sunnyYear(
  site: SunSite,
  year: number,
  normal: Vec3 | null,
  shadeOf: ShadeOf,
  onDay: (day: SunnyDay) => boolean,
): Promise<void> {
  for (let day = 0; day < 365; day += YEAR_DAYS) {
    const date = new Date(Date.UTC(year, 0, 1 + day)).toISOString().slice(0, 10);
    if (!onDay(await sunnyDay(site, date, normal, shadeOf, YEAR_STEP))) return;
  }
}

/** The year of a date. */
export function yearOf(date: string): number {
  return datePartsOf(date)?.[0] ?? new Date().getUTCFullYear();
}
