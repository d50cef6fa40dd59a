import type { ElementIndex } from '../elements/element-index';
import type { Where } from '../elements/element-set';
import { markWhere, rowsWhere, type ModelElements } from '../elements/match-elements';
import { asRecord, readWheres } from '../elements/read-element-set';

/** What belongs to an option: a whole model, or a part of one by rule, so that it is the same part in the next revision. */
export type OptionMember = Where;

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

/** The model that a member is, or is a part of. */
export function memberModel(member: OptionMember): string {
  return member.find((condition) => condition.is === 'model')?.value ?? '';
}

/** The options of a set as they may have been stored: once, a member was a model and at most one column of it. */
export function readDesignOptions(stored: unknown): DesignOption[] {
  if (!Array.isArray(stored)) return [];
  return stored.map((option) => {
    const { id, name, members } = asRecord(option);
    return {
      id: String(id),
      name: String(name),
      members: Array.isArray(members) ? members.flatMap(readMember) : [],
    };
  });
}

function readMember(stored: unknown): OptionMember[] {
  if (Array.isArray(stored)) return readWheres([stored]);
  const { model, part } = asRecord(stored);
  const whole = { is: 'model', value: model };
  const { column, value } = asRecord(part);
  return readWheres([part ? [whole, { is: column, value }] : [whole]]);
}

/** The option of a set that shows under a choice. */
export function chosenOption(set: OptionSet, choice: OptionChoice): DesignOption | undefined {
  return set.options.find(({ id }) => id === choice[set.id]) ?? set.options[0];
}

/** A choice under which a model shows that is an option, or one of its parts is. */
export function choiceShowing(sets: readonly OptionSet[], model: string): OptionChoice {
  const choice: OptionChoice = {};
  for (const set of sets) {
    const option = set.options.find(({ members }) => members.some((member) => memberModel(member) === model));
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
export function rowsAside(sets: readonly OptionSet[], choice: OptionChoice, elements: ModelElements): boolean[] | null {
  let aside: boolean[] | null = null;
  for (const set of sets) {
    const chosen = chosenOption(set, choice);
    const members = (option: DesignOption) => option.members.filter((one) => memberModel(one) === elements.model);
    const others = set.options.filter((option) => option !== chosen).flatMap(members);
    if (others.length === 0) continue;
    const own = new Uint8Array(elements.index.count);
    for (const member of others) markWhere(own, member, elements, 1);
    for (const member of chosen ? members(chosen) : []) markWhere(own, member, elements, 0);
    aside ??= new Array<boolean>(elements.index.count).fill(false);
    for (let row = 0; row < own.length; row++) if (own[row]) aside[row] = true;
  }
  return aside;
}

/** Elements of a model's contents that are what a member names; all of them for a whole model. */
export function countMember(member: OptionMember, index: ElementIndex): number {
  return rowsWhere([member], { model: memberModel(member), index, rowOf: new Map() }).length;
}
