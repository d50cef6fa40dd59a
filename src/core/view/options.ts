import { asRecord } from '../elements/read-element-set';
import type { OptionChoice } from '../options/option-set';
import type { ViewPart } from './view-part';

/** The chosen design options; of a place that is not named, the first shows. */
export const options: ViewPart<OptionChoice> = {
  initial: {},
  undone: true,
  read: (stored) =>
    Object.fromEntries(
      Object.entries(asRecord(stored)).filter((entry): entry is [string, string] => typeof entry[1] === 'string'),
    ),
  describe(choice, names) {
    const chosen = Object.entries(choice).flatMap(([set, option]) => names.option?.(set, option) ?? []);
    return chosen.length > 0 ? `Options: ${chosen.join(', ')}` : '';
  },
};
