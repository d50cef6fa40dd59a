import type { ElementColumn } from './element-columns';
import type { ElementRef } from './element-ref';

/** One thing that is asked of an element. Texts are compared exactly; an empty text stands for nothing known. */
export type Condition =
  | { is: 'model'; value: string }
  | { is: ElementColumn; value: string }
  | { is: 'fact'; set: string; name: string; value: string }
  /** A fact that is a number within bounds, both included. */
  | { is: 'fact'; set: string; name: string; from?: number; to?: number }
  /** What a search for these words finds. */
  | { is: 'search'; value: string }
  | { is: 'element'; guids: string[] };

/** Elements that meet every condition; without any, all elements. */
export type Where = readonly Condition[];

/**
 * Which elements, as a rule and not as a list, so that it is short, and right in the next revision too. The clauses are
 * followed in their order and the last word counts; a set begins with nothing.
 */
export type Clause = { also: Where } | { except: Where };
export type ElementSet = readonly Clause[];

export const ALL_ELEMENTS: ElementSet = [{ also: [] }];
export const NO_ELEMENTS: ElementSet = [];

/** Takes elements into a set. */
export function withElements(set: ElementSet, wheres: readonly Where[]): ElementSet {
  return compactSet([...set, ...wheres.map((also) => ({ also }))]);
}

/** Takes elements out of a set. */
export function withoutElements(set: ElementSet, wheres: readonly Where[]): ElementSet {
  return compactSet([...set, ...wheres.map((except) => ({ except }))]);
}

/** The elements of several parts together. */
export function setOf(wheres: readonly Where[]): ElementSet {
  return withElements(NO_ELEMENTS, wheres);
}

/** Single elements, those of one model together. */
export function whereElements(refs: readonly ElementRef[]): Where[] {
  const byModel = new Map<string, Set<string>>();
  for (const { model, guid } of refs) {
    const guids = byModel.get(model);
    if (guids) guids.add(guid);
    else byModel.set(model, new Set([guid]));
  }
  return [...byModel].map(([value, guids]) => [
    { is: 'model', value },
    { is: 'element', guids: [...guids] },
  ]);
}

/** The element that is meant, if just one is and it is named. */
export function soleElement(wheres: readonly Where[]): ElementRef | null {
  if (wheres.length !== 1 || wheres[0]!.length !== 2) return null;
  const model = wheres[0]!.find((condition) => condition.is === 'model');
  const element = wheres[0]!.find((condition) => condition.is === 'element');
  return model && element?.guids.length === 1 ? { model: model.value, guid: element.guids[0]! } : null;
}

/**
 * The same set in fewer words: what other clauses decide anyway is dropped, lists of single elements that follow each other
 * are joined. What was taken out and is taken in again leaves no trace.
 */
export function compactSet(set: ElementSet): ElementSet {
  let [before, now] = [set, withoutRepeated(withoutOverruled(set))];
  while (now.length < before.length) [before, now] = [now, withoutRepeated(withoutOverruled(now))];
  return now;
}

/** Without what a later clause decides anyway; lists of single elements joined. */
function withoutOverruled(set: ElementSet): ElementSet {
  const kept: Clause[] = [];
  for (let at = set.length - 1; at >= 0; at--) {
    const clause = set[at]!;
    if (kept.some((later) => covers(whereOf(later), whereOf(clause)))) continue;
    const next = kept[0];
    const joined = next && joinElements(clause, next);
    if (joined) kept[0] = joined;
    else kept.unshift(clause);
  }
  return kept;
}

/** Without what an earlier clause has said already and none in between has said otherwise. */
function withoutRepeated(set: ElementSet): ElementSet {
  const kept: Clause[] = [];
  for (const clause of set) if (!isRepeated(clause, kept)) kept.push(clause);
  return kept;
}

function isRepeated(clause: Clause, earlier: readonly Clause[]): boolean {
  const where = whereOf(clause);
  for (let at = earlier.length - 1; at >= 0; at--) {
    const other = earlier[at]!;
    if ('also' in other === 'also' in clause) {
      if (covers(whereOf(other), where)) return true;
    } else if (!areDisjoint(whereOf(other), where)) return false;
  }
  // A set begins with nothing, so that there is nothing to take out.
  return 'except' in clause;
}

export function whereOf(clause: Clause): Where {
  return 'also' in clause ? clause.also : clause.except;
}

/** Whether two parts ask the same, in whatever order. */
export function isSameWhere(a: Where, b: Where): boolean {
  return a.length === b.length && covers(a, b) && covers(b, a);
}

/** Whether everything that meets `narrow` surely meets `broad`. */
function covers(broad: Where, narrow: Where): boolean {
  return broad.every((condition) => narrow.some((other) => implies(other, condition)));
}

function implies(a: Condition, b: Condition): boolean {
  if (a.is !== b.is) return false;
  if (a.is === 'element' && b.is === 'element') {
    if (a.guids.length > b.guids.length) return false;
    const guids = new Set(b.guids);
    return a.guids.every((guid) => guids.has(guid));
  }
  return sameText(a, b);
}

function sameText(a: object, b: object): boolean {
  const [one, other] = [Object.entries(a), Object.entries(b)];
  return one.length === other.length && one.every(([key, value]) => (b as Record<string, unknown>)[key] === value);
}

/** Whether surely nothing meets both. */
function areDisjoint(a: Where, b: Where): boolean {
  return a.some((one) => b.some((other) => exclude(one, other)));
}

/** Of a model, a column and its own guid an element has one value each. */
function exclude(a: Condition, b: Condition): boolean {
  if (a.is === 'element' && b.is === 'element') {
    const guids = new Set(b.guids);
    return !a.guids.some((guid) => guids.has(guid));
  }
  if (a.is === 'fact' || b.is === 'fact' || a.is === 'search' || b.is === 'search') return false;
  return a.is === b.is && 'value' in a && 'value' in b && a.value !== b.value;
}

/** One clause for two that differ only in the elements that they name; null where they do not fit together. */
function joinElements(first: Clause, second: Clause): Clause | null {
  if ('also' in first !== 'also' in second) return null;
  const [a, b] = [whereOf(first), whereOf(second)];
  const listed = (where: Where) => where.find((condition) => condition.is === 'element');
  const [one, other] = [listed(a), listed(b)];
  if (!one || !other || a.length !== b.length) return null;
  const rest = a.filter((condition) => condition !== one);
  const others = b.filter((condition) => condition !== other);
  if (!covers(rest, others) || !covers(others, rest)) return null;
  const guids = [...new Set([...one.guids, ...other.guids])];
  const where: Where = [...rest, { is: 'element', guids }];
  return 'also' in first ? { also: where } : { except: where };
}
