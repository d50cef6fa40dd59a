import type { ElementIndex } from '../elements/element-index';
import type { RevealColumn } from '../reveal/reveal-rule';
import { textAt } from '../reveal/reveal-index';

/** A part of a model, by rule, so that it is the same part in the next revision. */
export interface OptionPart {
  column: RevealColumn;
  value: string;
}

/** What belongs to an option: a whole model, or a part of one. */
export interface OptionMember {
  model: string;
  /** Null is the whole model. */
  part: OptionPart | null;
}

/** One of several designs of the same place. */
export interface DesignOption {
  id: string;
  name: string;
  members: OptionMember[];
}

/** Alternatives of a place: exactly one of them shows. */
export interface OptionSet {
  id: string;
  name: string;
  /** The first one shows as long as nobody has chosen. */
  options: DesignOption[];
}

/** The chosen option of each set, by the sets' ids; sets that are not named show their first. */
export type OptionChoice = Record<string, string>;

export interface OptionSetDraft {
  name: string;
  options: Omit<DesignOption, 'id'>[];
}

/** The option of a set that shows under a choice. */
export function chosenOption(set: OptionSet, choice: OptionChoice): DesignOption | undefined {
  return set.options.find(({ id }) => id === choice[set.id]) ?? set.options[0];
}

/** A choice under which a model shows that is an option, or one of its parts is. */
export function choiceShowing(sets: OptionSet[], model: string): OptionChoice {
  const choice: OptionChoice = {};
  for (const set of sets) {
    const option = set.options.find(({ members }) => members.some((member) => member.model === model));
    if (option) choice[set.id] = option.id;
  }
  return choice;
}

/**
 * The rows of a model that do not show because another option is chosen. What belongs to the chosen option as well
 * shows.
 *
 * @returns by row whether it is aside; null if none is
 */
export function rowsAside(
  sets: OptionSet[],
  choice: OptionChoice,
  model: string,
  index: ElementIndex,
): boolean[] | null {
  let aside: boolean[] | null = null;
  for (const set of sets) {
    const chosen = chosenOption(set, choice);
    const others = set.options.filter((option) => option !== chosen);
    const isOther = membership(others, model, index);
    if (!isOther) continue;
    const isChosen = membership(chosen ? [chosen] : [], model, index);
    aside ??= new Array<boolean>(index.count).fill(false);
    for (let row = 0; row < index.count; row++) if (isOther(row) && !isChosen?.(row)) aside[row] = true;
  }
  return aside;
}

/** Elements of a model's contents that are what a member names; all of them for a whole model. */
export function countMember({ part }: OptionMember, index: ElementIndex): number {
  if (part === null) return index.count;
  let count = 0;
  for (let row = 0; row < index.count; row++) if (textAt(index, part.column, row) === part.value) count++;
  return count;
}

/** A test whether a row belongs to any of the options; null if nothing of the model does. */
function membership(options: DesignOption[], model: string, index: ElementIndex): ((row: number) => boolean) | null {
  const members = options.flatMap((option) => option.members.filter((member) => member.model === model));
  if (members.length === 0) return null;
  if (members.some(({ part }) => part === null)) return () => true;
  const values = new Map<RevealColumn, Set<string>>();
  for (const { column, value } of members.map(({ part }) => part!))
    values.set(column, (values.get(column) ?? new Set()).add(value));
  return (row) => [...values].some(([column, wanted]) => wanted.has(textAt(index, column, row)));
}
