/** A day of the calendar and a time of day, at the place. */
export interface LocalTime {
  /** Such as 2026-12-21. */
  date: string;
  /** Minutes since midnight, as clocks show them. */
  minutes: number;
}

const DATE = /^(\d{4})-(\d{2})-(\d{2})$/;
export const DAY_MINUTES = 24 * 60;

/** Whether that is a day of the calendar; `Date` itself reads 30 February as 2 March. */
export function isCalendarDay(text: string): boolean {
  const date = new Date(`${text}T00:00:00Z`);
  return DATE.test(text) && !Number.isNaN(date.getTime()) && date.toISOString().startsWith(text);
}

/** Whether that is a day for which the sun is shown: one of the calendar, of these centuries. */
export function isDate(text: string): boolean {
  const year = datePartsOf(text)?.[0] ?? 0;
  return isCalendarDay(text) && year >= 1900 && year < 2200;
}

/** Year, month (from 1) and day of what is written like a date. */
export function datePartsOf(text: string): [number, number, number] | null {
  const match = DATE.exec(text);
  return match && [Number(match[1]), Number(match[2]), Number(match[3])];
}

/** Such as 16:05. */
export function clock(minutes: number): string {
  const whole = Math.round(minutes);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

/** Such as 21 December 2026. */
export function dayText(date: string): string {
  return written(date, { day: 'numeric', month: 'long', year: 'numeric' });
}

/** Such as 21 Dec. */
export function shortDayText(date: string): string {
  return written(date, { day: 'numeric', month: 'short' });
}

function written(date: string, format: Intl.DateTimeFormatOptions): string {
  return new Date(`${date}T12:00:00Z`).toLocaleDateString('en-GB', { ...format, timeZone: 'UTC' });
}
