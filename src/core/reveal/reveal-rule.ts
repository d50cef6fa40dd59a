import { boxesTouch, type Box3 } from '../math/box3';

/** By what parts of a model can be withheld. */
export const REVEAL_COLUMNS = ['category', 'storey', 'system', 'material', 'discipline'] as const;
export type RevealColumn = (typeof REVEAL_COLUMNS)[number];

/**
 * Which parts of a model are published. A rule and not a list, so that the next revision of the same file reveals the
 * same parts; categories that the rule has not seen yet wait until somebody has decided about them.
 */
export interface RevealRule {
  /** Branches that are withheld. A storey goes by its name. */
  withheld: { column: RevealColumn; value: string }[];
  /** Single elements that are withheld, by guid. */
  elements: string[];
  /** Categories that were there when the rule was made. */
  knownCategories: string[];
  /** Only what touches this box is revealed, in metres in the model's own coordinates; without it, place does not matter. */
  box?: Box3;
}

/** What a rule looks at. Empty texts stand for nothing known. */
export interface RevealedElement extends Record<RevealColumn, string> {
  guid: string;
  /** In the model's own coordinates; null for an element without a shape, which no box keeps back. */
  box: Box3 | null;
}

/** A test for many elements, made once from the rule. */
export function revealTest(rule: RevealRule): (element: RevealedElement) => boolean {
  const branches = new Map<RevealColumn, Set<string>>();
  for (const { column, value } of rule.withheld) {
    const values = branches.get(column) ?? new Set();
    branches.set(column, values.add(value));
  }
  const elements = new Set(rule.elements);
  const known = new Set(rule.knownCategories);
  return (element) =>
    known.has(element.category) &&
    !elements.has(element.guid) &&
    (!rule.box || !element.box || boxesTouch(rule.box, element.box)) &&
    ![...branches].some(([column, values]) => values.has(element[column]));
}

/** Whether a rule lets everything through that it knows. */
export function withholdsNothing(rule: RevealRule | undefined): boolean {
  return !rule || (rule.withheld.length === 0 && rule.elements.length === 0 && !rule.box);
}
