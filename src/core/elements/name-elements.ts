import { groupBy } from '../group-by';
import type { OptionSet } from '../options/option-set';
import type { Coloured } from '../view/colouring';
import type { ViewState } from '../view/view-state';
import { SHOW_ALL } from '../view/visibility';
import { hasText } from './element-columns';
import { elementFlags, HIDDEN, ROOM_CATEGORY } from './element-flags';
import { setOf, withoutElements, ALL_ELEMENTS, type Clause, type ElementSet, type Where } from './element-set';
import { elementMask, rowsWhere, type ModelElements } from './match-elements';

/** The sets by which a view says what shows, what is coloured and what is selected. */
export function setsOf({ visibility, colouring, selection }: ViewState): ElementSet[] {
  return [visibility.shown, ...colouring.map(({ of }) => of), setOf(selection)];
}

/** Whether a view says by rules, or by what is chosen, what it means, and not by naming elements one by one. */
export function goesByRules(view: ViewState, options: readonly OptionSet[]): boolean {
  const [shown, ...others] = setsOf(view);
  const [first, ...rest] = shown!;
  const isWhole = first !== undefined && 'also' in first && first.also.length === 0;
  return (
    options.length > 0 ||
    view.visibility.hiddenModels.length > 0 ||
    !(isWhole ? rest.every((clause) => 'except' in clause && areNamed(clause.except)) : shown!.every(isNamed)) ||
    !others.every((set) => set.every(isNamed))
  );
}

function isNamed(clause: Clause): boolean {
  return 'also' in clause && areNamed(clause.also);
}

function areNamed(where: Where): boolean {
  return where.some(({ is }) => is === 'element') && where.every(({ is }) => is === 'element' || is === 'model');
}

/**
 * The same view for programs that know elements by their guids alone: rules, models that are off and options that are not
 * chosen become lists of the elements that they mean in these models. Whichever list is shorter says what shows: of what is
 * hidden, or of what is left.
 */
export function nameElements(
  view: ViewState,
  models: readonly ModelElements[],
  options: readonly OptionSet[],
): ViewState {
  const [hidden, shown]: [string[], string[]] = [[], []];
  const selected: string[] = [];
  const coloured = new Map<string, string>();
  for (const elements of models) {
    const { index } = elements;
    const isRoom = hasText(index, 'category', ROOM_CATEGORY);
    const flags = elementFlags(elements, { ...view, selection: [] }, options);
    index.guid.forEach((guid, row) => {
      if (!isRoom(row)) (flags[row]! & HIDDEN ? hidden : shown).push(guid);
    });
    for (const row of rowsWhere(view.selection, elements)) selected.push(index.guid[row]!);
    for (const { of, colour } of view.colouring)
      elementMask(of, elements).forEach((isMeant, row) => isMeant && coloured.set(index.guid[row]!, colour));
  }
  const areFewHidden = hidden.length <= shown.length;
  return {
    ...view,
    visibility: {
      ...SHOW_ALL,
      shown: areFewHidden ? withoutElements(ALL_ELEMENTS, listed(hidden)) : setOf(listed(shown)),
    },
    colouring: byColour(coloured),
    selection: listed(selected),
  };
}

function listed(guids: readonly string[]): Where[] {
  return guids.length > 0 ? [[{ is: 'element', guids: [...new Set(guids)] }]] : [];
}

function byColour(coloured: ReadonlyMap<string, string>): Coloured[] {
  const colours = groupBy(coloured, ([, colour]) => colour);
  return [...colours].map(([colour, own]) => ({ of: setOf(listed(own.map(([guid]) => guid))), colour }));
}
