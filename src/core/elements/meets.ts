import type { ElementColumn } from './element-columns';
import { whereOf, type Condition, type ElementSet, type Where } from './element-set';

/** One element as far as conditions ask about it, where there is no index yet, such as while publishing. */
export interface DescribedElement {
  guid: string;
  /** Empty where nothing is known. */
  text(column: ElementColumn): string;
  /** A fact's value; undefined where the element has none. */
  fact?(set: string, name: string): unknown;
}

/**
 * A test whether an element meets every condition, made once for many elements. What only a whole model's index can tell, a
 * model or a search, is not met.
 */
export function whereTest(where: Where): (element: DescribedElement) => boolean {
  const tests = where.map(conditionTest);
  return (element) => tests.every((test) => test(element));
}

/** A test whether an element is in a set, made once for many elements. The last clause that it meets counts. */
export function setTest(set: ElementSet): (element: DescribedElement) => boolean {
  const clauses = set.map((clause) => ({ isIn: 'also' in clause, test: whereTest(whereOf(clause)) })).reverse();
  return (element) => clauses.find(({ test }) => test(element))?.isIn ?? false;
}

function conditionTest(condition: Condition): (element: DescribedElement) => boolean {
  switch (condition.is) {
    case 'model':
    case 'search':
      return () => false;
    case 'element': {
      const guids = new Set(condition.guids);
      return ({ guid }) => guids.has(guid);
    }
    case 'fact':
      return (element) => {
        const value = element.fact?.(condition.set, condition.name);
        return value !== undefined && value !== null && factFits(condition, factText(value));
      };
    default: {
      const { is, value } = condition;
      return (element) => element.text(is) === value;
    }
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
