import { ALL_ELEMENTS, compactSet, NO_ELEMENTS, type ElementSet, type Where } from '../elements/element-set';
import { setTest, type DescribedElement } from '../elements/meets';
import { asRecord, readElementSet } from '../elements/read-element-set';
import { boxesTouch, type Box3 } from '../math/box3';
import { readOldRule } from './read-old-rule';

/**
 * Which parts of a model are published. A rule and not a list, so that the next revision of the same file reveals the
 * same parts; categories that the rule has not seen yet wait until somebody has decided about them.
 */
export interface RevealRule {
  /** The elements that are revealed, as far as their category is known. */
  of: ElementSet;
  /** Categories that somebody has decided about. */
  knownCategories: string[];
  /** Only what touches this box is revealed, in metres in the model's own coordinates; without it, place does not matter. */
  box?: Box3;
}

/** Why an element is withheld: for its place, as of a category that is new, or because somebody said so. */
export type WithheldFor = 'box' | 'new' | 'rule';

/** A rule that reveals everything that is of these categories. */
export function revealAll(categories: readonly string[]): RevealRule {
  return { of: ALL_ELEMENTS, knownCategories: [...categories] };
}

/**
 * Tells of many elements why a rule withholds them; null for those that it reveals. Made once from the rule.
 *
 * @returns takes an element, and its box in the model's own coordinates: null without a shape, which no box keeps back
 */
export function withheldFor(rule: RevealRule): (element: DescribedElement, box: Box3 | null) => WithheldFor | null {
  const isIn = setTest(rule.of);
  const reasonOf = reasonTest(rule);
  return (element, box) => reasonOf(element.text('category'), box, isIn(element));
}

/** Why a rule withholds something of a category, with a box, that is in the rule's set or not; null where it reveals it. */
export function reasonTest(
  rule: RevealRule,
): (category: string, box: Box3 | null, isIn: boolean) => WithheldFor | null {
  const known = new Set(rule.knownCategories);
  return (category, box, isIn) => {
    if (rule.box && box && !boxesTouch(rule.box, box)) return 'box';
    if (!known.has(category)) return 'new';
    return isIn ? null : 'rule';
  };
}

/** Whether a rule lets everything through that it knows. */
export function withholdsNothing(rule: RevealRule | undefined): boolean {
  return !rule || (!rule.box && rule.of.every((clause) => 'also' in clause && clause.also.length === 0));
}

/**
 * Reveals elements or withholds them, whatever was said of them before. Where just these were withheld, they are given back
 * as before: what else withholds some of them still does. Of a category that is new and that is revealed in part, the rest
 * is withheld.
 *
 * @param categories of the elements
 */
export function decide(rule: RevealRule, where: Where, categories: readonly string[], revealed: boolean): RevealRule {
  const others = rule.of.filter((clause) => !('except' in clause && isSame(clause.except, where)));
  if (revealed && others.length < rule.of.length) return { ...rule, of: compactSet(others) };
  const fresh = new Set(categories.filter((category) => revealed && !rule.knownCategories.includes(category)));
  const decided = new Set([...rule.knownCategories, ...fresh, ...wholeCategory(where)]);
  const rest = [...fresh].map((value) => ({ except: [{ is: 'category', value }] as Where }));
  return {
    ...rule,
    of: compactSet([...rule.of, ...rest, revealed ? { also: where } : { except: where }]),
    knownCategories: [...decided],
  };
}

/** The category that is meant as a whole, if one is. */
function wholeCategory(where: Where): string[] {
  const [condition] = where;
  return where.length === 1 && condition?.is === 'category' ? [condition.value] : [];
}

function isSame(a: Where, b: Where): boolean {
  const texts = (where: Where) => where.map((condition) => JSON.stringify(condition)).sort();
  return JSON.stringify(texts(a)) === JSON.stringify(texts(b));
}

/** A rule as it may have been stored by any earlier version; what makes no sense reveals nothing. */
export function readRevealRule(stored: unknown): RevealRule {
  const { of, knownCategories, box, ...older } = asRecord(stored);
  return {
    of: of === undefined ? readOldRule(older) : readElementSet(of, NO_ELEMENTS),
    knownCategories: Array.isArray(knownCategories) ? knownCategories.map(String) : [],
    ...(Array.isArray(box) && box.length === 6 && { box: box.map(Number) as Box3 }),
  };
}
