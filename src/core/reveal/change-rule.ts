import type { ElementIndex } from '../elements/element-index';
import { revealedElementAt } from './reveal-index';
import { REVEAL_COLUMNS, revealTest, type Branch, type BranchPart, type RevealRule } from './reveal-rule';

/**
 * Reveals or withholds a whole branch: what was decided about parts of it is forgotten. Its category, if it is one,
 * counts as decided about.
 *
 * @param rows of its elements
 */
export function decideBranch(
  rule: RevealRule,
  index: ElementIndex,
  branch: Branch,
  rows: number[],
  revealed: boolean,
): RevealRule {
  const withheld = rule.withheld.filter((other) => !isSame(other, branch));
  return withoutElements(
    {
      ...rule,
      withheld: revealed ? withheld : [...withheld, branch],
      parts: rule.parts?.filter(({ within }) => !within.some((other) => isSame(other, branch))),
      knownCategories:
        branch.column === 'category' ? [...new Set([...rule.knownCategories, branch.value])] : rule.knownCategories,
    },
    index,
    rows,
  );
}

/**
 * Reveals or withholds what is of two branches at once, whatever was decided about either. Of a category that nobody has
 * decided about, the rest is withheld.
 *
 * @param rows of its elements
 */
export function decidePart(
  rule: RevealRule,
  index: ElementIndex,
  branches: [Branch, Branch],
  rows: number[],
  revealed: boolean,
): RevealRule {
  const within = inOrder(branches);
  const parts = (rule.parts ?? []).filter((part) => !isSamePart(part, within));
  const unknown = within.filter(({ column, value }) => column === 'category' && !rule.knownCategories.includes(value));
  const withheld = [...rule.withheld, ...unknown];
  const isBranchWithheld = within.some((branch) => withheld.some((other) => isSame(other, branch)));
  const own: BranchPart[] = revealed === isBranchWithheld ? [{ within, revealed }] : [];
  return withoutElements(
    {
      ...rule,
      withheld,
      parts: [...parts, ...own],
      knownCategories: [...rule.knownCategories, ...unknown.map(({ value }) => value)],
    },
    index,
    rows,
  );
}

/** Reveals or withholds single elements, whatever was decided about their branches. */
export function decideElements(rule: RevealRule, index: ElementIndex, rows: number[], revealed: boolean): RevealRule {
  const others = withoutElements(rule, index, rows);
  const { box: _, ...anywhere } = others;
  const isRevealed = revealTest(anywhere);
  const against = rows
    .map((row) => revealedElementAt(index, row, null))
    .filter((element) => isRevealed(element) !== revealed)
    .map(({ guid }) => guid);
  return revealed
    ? { ...others, revealed: [...(others.revealed ?? []), ...against] }
    : { ...others, elements: [...others.elements, ...against] };
}

/** Whether a rule withholds a branch, or a part of one, by a decision about just that. */
export function isWithheld(rule: RevealRule, path: [Branch] | [Branch, Branch]): boolean {
  if (path.length === 1) return rule.withheld.some((branch) => isSame(branch, path[0]));
  const within = inOrder(path);
  return (rule.parts ?? []).some((part) => !part.revealed && isSamePart(part, within));
}

function isSamePart({ within }: BranchPart, other: [Branch, Branch]): boolean {
  return within.every((branch, i) => isSame(branch, other[i]!));
}

function isSame(a: Branch, b: Branch): boolean {
  return a.column === b.column && a.value === b.value;
}

function inOrder(branches: [Branch, Branch]): [Branch, Branch] {
  const place = ({ column }: Branch) => REVEAL_COLUMNS.indexOf(column);
  return place(branches[0]) <= place(branches[1]) ? branches : [branches[1], branches[0]];
}

/** Forgets what was decided about single elements. */
function withoutElements(rule: RevealRule, index: ElementIndex, rows: number[]): RevealRule {
  if (rule.elements.length === 0 && !rule.revealed?.length) return rule;
  const guids = new Set(rows.map((row) => index.guid[row]!));
  const rest = (some: string[]) => some.filter((guid) => !guids.has(guid));
  return { ...rule, elements: rest(rule.elements), ...(rule.revealed && { revealed: rest(rule.revealed) }) };
}
