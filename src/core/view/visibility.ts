import { describeSet } from '../elements/describe-set';
import { ALL_ELEMENTS, withElements, whereElements, withoutElements, type ElementSet } from '../elements/element-set';
import { asRecord, readElementSet, readRefs } from '../elements/read-element-set';
import type { ViewPart } from './view-part';

/** What shows. */
export interface Visibility {
  shown: ElementSet;
  /** Models that are switched off, whatever of them is in the set. */
  hiddenModels: string[];
}

export const SHOW_ALL: Visibility = { shown: ALL_ELEMENTS, hiddenModels: [] };

export const visibility: ViewPart<Visibility> = {
  initial: SHOW_ALL,
  undone: true,
  read(stored) {
    const { shown, hiddenModels, hidden, only } = asRecord(stored);
    return {
      shown: shown === undefined ? fromLists(hidden, only) : readElementSet(shown),
      hiddenModels: Array.isArray(hiddenModels) ? hiddenModels.filter((id) => typeof id === 'string') : [],
    };
  },
  describe({ shown, hiddenModels }, names) {
    const all = JSON.stringify(shown) === JSON.stringify(ALL_ELEMENTS);
    const models = hiddenModels.map((id) => names.model?.(id) ?? 'a model that is gone');
    return [all ? '' : `Shown: ${describeSet(shown, names)}`, models.length > 0 ? `Off: ${models.join(', ')}` : '']
      .filter(Boolean)
      .join('; ');
  },
};

/** The older form: lists of single elements that are hidden, and those that alone are shown. */
function fromLists(hidden: unknown, only: unknown): ElementSet {
  const base = Array.isArray(only) ? withElements([], whereElements(readRefs(only))) : ALL_ELEMENTS;
  return withoutElements(base, whereElements(readRefs(hidden)));
}
