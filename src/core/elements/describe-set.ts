import type { ElementRef } from './element-ref';
import { whereOf, type Condition, type ElementSet, type Where } from './element-set';

/** How things are called that a view only knows by their ids. What has no name any more may be left undefined. */
export interface Names {
  model?(id: string): string | undefined;
  element?(ref: ElementRef): string | undefined;
  option?(set: string, option: string): string | undefined;
}

/** Names no longer than this many parts are listed; of more, their number is said. */
const MOST_LISTED = 3;

/** Which elements, in words: "Duct of Ground floor in Building services". */
export function describeWhere(where: Where, names: Names): string {
  if (where.length === 0) return 'everything';
  const model = where.find((condition) => condition.is === 'model');
  const named = model && (names.model?.(model.value) ?? 'a model that is gone');
  const rest = where
    .filter((condition) => condition !== model)
    .map((one) => describeCondition(one, model?.value, names));
  if (rest.length === 0) return `all of ${named}`;
  return `${rest.join(' of ')}${named ? ` in ${named}` : ''}`;
}

function describeCondition(condition: Condition, model: string | undefined, names: Names): string {
  switch (condition.is) {
    case 'element': {
      const [guid] = condition.guids;
      if (condition.guids.length === 1) return (model && names.element?.({ model, guid: guid! })) || 'one element';
      return `${condition.guids.length} elements`;
    }
    case 'search':
      return `what “${condition.value}” finds`;
    case 'fact':
      if ('value' in condition) return `${condition.name} ${condition.value}`;
      return `${condition.name} ${condition.from ?? '…'} to ${condition.to ?? '…'}`;
    case 'model':
      return names.model?.(condition.value) ?? 'a model that is gone';
    default:
      return condition.value === '' ? `no ${condition.is}` : condition.value;
  }
}

export function describeWheres(wheres: readonly Where[], names: Names): string {
  if (wheres.length > MOST_LISTED) return `${wheres.length} parts`;
  return wheres.map((where) => describeWhere(where, names)).join(' and ');
}

/** A set in words: "everything except Roof in Architecture". */
export function describeSet(set: ElementSet, names: Names): string {
  if (set.length === 0) return 'nothing';
  if (set.length > 2 * MOST_LISTED) return `what ${set.length} rules leave`;
  return set
    .map((clause, i) => {
      const words = describeWhere(whereOf(clause), names);
      return i === 0 ? words : `${'also' in clause ? 'and' : 'except'} ${words}`;
    })
    .join(' ');
}
