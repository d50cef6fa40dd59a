import { boxesTouch, type Box3 } from '../math/box3';

/** By what parts of a model can be withheld. */
export const REVEAL_COLUMNS = ['category', 'storey', 'system', 'material', 'discipline'] as const;
export type RevealColumn = (typeof REVEAL_COLUMNS)[number];

/** All elements with a value in a column. A storey goes by its name; empty texts stand for nothing known. */
export interface Branch {
  column: RevealColumn;
  value: string;
}

/** What is of two branches at once, such as the doors of a storey, and is decided about apart from either. */
export interface BranchPart {
  /** In the order of `REVEAL_COLUMNS`. */
  within: [Branch, Branch];
  revealed: boolean;
}

/**
 * Which parts of a model are published. A rule and not a list, so that the next revision of the same file reveals the
 * same parts; categories that the rule has not seen yet wait until somebody has decided about them. The narrower decision
 * counts: an element's own before that of a part of a branch, and that before the branch's.
 */
export interface RevealRule {
  withheld: Branch[];
  /** Without it, nothing is decided otherwise than by whole branches. */
  parts?: BranchPart[];
  /** Single elements that are withheld, by guid. */
  elements: string[];
  /** Single elements that are revealed whatever their branches say, by guid. */
  revealed?: string[];
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

/** Why an element is withheld: for its place, by itself, as part of a branch, as of a category that is new, or for a branch. */
export type WithheldFor = 'box' | 'element' | 'part' | 'new' | RevealColumn;

/** A test for many elements, made once from the rule. */
export function revealTest(rule: RevealRule): (element: RevealedElement) => boolean {
  const reasonOf = withheldFor(rule);
  return (element) => reasonOf(element) === null;
}

/** Tells of many elements why a rule withholds them; null for those that it reveals. Made once from the rule. */
export function withheldFor(rule: RevealRule): (element: RevealedElement) => WithheldFor | null {
  const branches = new Map<RevealColumn, Set<string>>();
  for (const { column, value } of rule.withheld) {
    const values = branches.get(column) ?? new Set();
    branches.set(column, values.add(value));
  }
  const decisions = decisionsOn(rule.parts ?? []);
  const elements = new Set(rule.elements);
  const revealed = new Set(rule.revealed);
  const known = new Set(rule.knownCategories);
  return (element) => {
    if (rule.box && element.box && !boxesTouch(rule.box, element.box)) return 'box';
    if (elements.has(element.guid)) return 'element';
    if (revealed.has(element.guid)) return null;
    if (!known.has(element.category)) return 'new';
    const freed: RevealColumn[] = [];
    for (const { columns, parts } of decisions) {
      const decision = parts.get(partKey(columns.map((column) => element[column])));
      if (decision === false) return 'part';
      if (decision) freed.push(...columns);
    }
    for (const [column, values] of branches) if (values.has(element[column]) && !freed.includes(column)) return column;
    return null;
  };
}

/** Decisions about parts of branches, those about the same two columns together. */
function decisionsOn(parts: BranchPart[]): { columns: RevealColumn[]; parts: Map<string, boolean> }[] {
  const out = new Map<string, { columns: RevealColumn[]; parts: Map<string, boolean> }>();
  for (const { within, revealed } of parts) {
    const columns = within.map(({ column }) => column);
    const own = out.get(partKey(columns)) ?? { columns, parts: new Map<string, boolean>() };
    own.parts.set(partKey(within.map(({ value }) => value)), revealed);
    out.set(partKey(columns), own);
  }
  return [...out.values()];
}

function partKey(texts: string[]): string {
  return texts.join('\0');
}

/** Whether a rule lets everything through that it knows. */
export function withholdsNothing(rule: RevealRule | undefined): boolean {
  if (!rule) return true;
  const { withheld, parts = [], elements, box } = rule;
  return withheld.length === 0 && parts.every(({ revealed }) => revealed) && elements.length === 0 && !box;
}
