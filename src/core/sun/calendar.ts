/** A day of the calendar and a time of day, at the place. */
export interface LocalTime {
  /** Such as 2026-12-21. */
  date: string;
  /** Minutes since midnight, as clocks show them. */
  minutes: number;
}

const DATE = /^(\d{4})-(\d{2})-(\d{2})$/;
export const DAY_MINUTES = 24 * 60;

/** Whether that is a day of the calendar. */
export function isDate(text: string): boolean {
  const parts = datePartsOf(text);
  if (!parts) return false;
  const [year, month, day] = parts;
  const date = new Date(Date.UTC(year, month - 1, day));
  return date.getUTCMonth() === month - 1 && date.getUTCDate() === day && year >= 1900 && year < 2200;
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
  return new Date(`${date}T12:00:00Z`).toLocaleDateString('en-GB', {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
    timeZone: 'UTC',
  });
}
