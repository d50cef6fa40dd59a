import { TZDate } from '@date-fns/tz';
import { datePartsOf, type LocalTime } from './calendar';

export function isTimeZone(name: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: name });
    return true;
  } catch {
    return false;
  }
}

/** The moment at which clocks of a time zone show a local time. @throws RangeError of what is no day */
export function momentOf({ date, minutes }: LocalTime, timeZone: string): Date {
  const parts = datePartsOf(date);
  if (!parts) throw new RangeError(`${date} is no day`);
  const [year, month, day] = parts;
  return new Date(new TZDate(year, month - 1, day, Math.floor(minutes / 60), minutes % 60, timeZone).getTime());
}

/** What clocks of a time zone show at a moment. */
export function localTimeAt(at: Date, timeZone: string): LocalTime {
  const local = new TZDate(at.getTime(), timeZone);
  return {
    date: [local.getFullYear(), local.getMonth() + 1, local.getDate()]
      .map((part, i) => String(part).padStart(i === 0 ? 4 : 2, '0'))
      .join('-'),
    minutes: local.getHours() * 60 + local.getMinutes(),
  };
}
