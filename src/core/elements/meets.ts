import type { ElementColumn } from './element-columns';
import type { Condition, Where } from './element-set';

/** One element as far as conditions ask about it, where there is no index yet, such as while publishing. */
export interface DescribedElement {
  guid: string;
  /** Empty where nothing is known. */
  text(column: ElementColumn): string;
  /** A fact's value; undefined where the element has none. */
  fact?(set: string, name: string): unknown;
}

/** Whether an element meets every condition. What only a whole model's index can tell, a model or a search, is not met. */
export function meets(where: Where, element: DescribedElement): boolean {
  return where.every((condition) => meetsOne(condition, element));
}

function meetsOne(condition: Condition, element: DescribedElement): boolean {
  switch (condition.is) {
    case 'model':
    case 'search':
      return false;
    case 'element':
      return condition.guids.includes(element.guid);
    case 'fact': {
      const value = element.fact?.(condition.set, condition.name);
      return value !== undefined && value !== null && factFits(condition, factText(value));
    }
    default:
      return element.text(condition.is) === condition.value;
  }
}

/** Whether a fact's value, as a text, is the one that is asked for, or within the bounds. */
export function factFits(condition: Extract<Condition, { is: 'fact' }>, text: string): boolean {
  if ('value' in condition) return text === condition.value;
  const number = text.trim() === '' ? NaN : Number(text);
  return number >= (condition.from ?? -Infinity) && number <= (condition.to ?? Infinity);
}

/** A fact's value as a text, the same in the page and while publishing. */
export function factText(value: unknown): string {
  return typeof value === 'number' ? String(Number(value.toPrecision(12))) : String(value);
}
