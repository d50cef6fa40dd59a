import { asRecord } from '../elements/read-element-set';
import { clock, DAY_MINUTES, dayText, isDate, type LocalTime } from '../sun/calendar';
import { isNumber } from './read-numbers';
import type { ViewPart } from './view-part';

/** The light in which a model is seen. */
export interface Light {
  /** When the sun shines as it does at the place; null for the even light of a model on a table. */
  at: LocalTime | null;
  /** Whether things cast shadows. */
  shadows: boolean;
  /** In stops: 1 is twice as bright. */
  exposure: number;
}

export const MOST_EXPOSURE = 2;

const FIRST_LIGHT: Light = { at: null, shadows: true, exposure: 0 };

export const light: ViewPart<Light> = {
  initial: FIRST_LIGHT,
  undone: true,
  read(stored) {
    const { at, shadows, exposure } = asRecord(stored);
    const { date, minutes } = asRecord(at);
    const isMoment =
      typeof date === 'string' && isDate(date) && isNumber(minutes) && minutes >= 0 && minutes < DAY_MINUTES;
    return {
      at: isMoment ? { date, minutes } : null,
      shadows: shadows !== false,
      exposure: isNumber(exposure) ? Math.min(MOST_EXPOSURE, Math.max(-MOST_EXPOSURE, exposure)) : 0,
    };
  },
  describe({ at, shadows }) {
    if (!at) return shadows ? '' : 'Without shadows';
    return `In the sun of ${dayText(at.date)}, ${clock(at.minutes)}${shadows ? '' : ', without shadows'}`;
  },
};
