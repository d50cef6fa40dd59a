import { describeWheres } from '../elements/describe-set';
import type { Where } from '../elements/element-set';
import { readWheres } from '../elements/read-element-set';
import type { ViewPart } from './view-part';

/** What is selected: the parts together. */
export type Selection = readonly Where[];

export const selection: ViewPart<Selection> = {
  initial: [],
  undone: false,
  read: readWheres,
  describe: (selected, names) => (selected.length > 0 ? `Selected: ${describeWheres(selected, names)}` : ''),
};
