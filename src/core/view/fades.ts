import { describeSet } from '../elements/describe-set';
import type { ElementSet } from '../elements/element-set';
import { asRecord, readElementSet } from '../elements/read-element-set';
import type { ViewPart } from './view-part';

/** Elements that are looked through and picked through. */
export interface Fade {
  of: ElementSet;
  /** How clear: 0 is solid, 1 would be gone. */
  clear: number;
}

/** Of several fades of an element the last one counts. */
export type Fades = readonly Fade[];

/** The clearest that is offered: what cannot be seen at all is hidden, not faded. */
export const CLEAREST = 0.95;

export const fades: ViewPart<Fades> = {
  initial: [],
  undone: true,
  read: (stored) =>
    Array.isArray(stored)
      ? stored.flatMap((entry): Fade[] => {
          const { of, clear } = asRecord(entry);
          if (!Array.isArray(of) || typeof clear !== 'number' || !(clear >= 0)) return [];
          return [{ of: readElementSet(of), clear: Math.min(clear, CLEAREST) }];
        })
      : [],
  describe: (list, names) =>
    list.map(({ of, clear }) => `Faded by ${Math.round(clear * 100)} %: ${describeSet(of, names)}`).join('; '),
};
