import { rowsAside, type OptionSet } from '../options/option-set';
import type { ElementRef, Visibility } from '../viewpoint';
import { columnValue, type ElementIndex } from './element-index';

/** Bits of an element's state. */
export const HIDDEN = 1;
export const SELECTED = 2;
/** Shows through whatever stands before it. */
export const THROUGH = 4;

/** Rooms are places, not things: they show only while selected. */
export const ROOM_CATEGORY = 'Space';

/**
 * The state of every element of one model as one byte each.
 *
 * @param model id of the model in `visibility` and `selection`
 * @param rowOf guid -> row, from `guidRows`
 * @param options alternatives of which only the chosen ones show
 * @param mark bits of what is selected
 */
export function elementFlags(
  index: ElementIndex,
  rowOf: Map<string, number>,
  model: string,
  visibility: Visibility,
  selection: ElementRef[],
  options: OptionSet[] = [],
  mark = SELECTED,
): Uint8Array {
  const flags = new Uint8Array(index.count);
  const rows = (refs: ElementRef[]) => refs.flatMap((ref) => (ref.model === model ? (rowOf.get(ref.guid) ?? []) : []));
  if (visibility.only) {
    flags.fill(HIDDEN);
    for (const row of rows(visibility.only)) flags[row] = 0;
  }
  for (const row of rows(visibility.hidden)) flags[row] = HIDDEN;
  const room = index.category.values.indexOf(ROOM_CATEGORY);
  if (room >= 0) index.category.codes.forEach((code, row) => code === room && (flags[row] = HIDDEN));
  for (const row of rows(selection))
    flags[row] = room >= 0 && columnValue(index.category, row) === ROOM_CATEGORY ? mark : flags[row]! | mark;
  rowsAside(options, visibility.options ?? {}, model, index)?.forEach((aside, row) => {
    if (aside) flags[row] = HIDDEN;
  });
  if (visibility.hiddenModels.includes(model)) flags.fill(HIDDEN);
  return flags;
}

/** guid -> row. Where a file repeats a guid, the first row has it. */
export function guidRows(index: ElementIndex): Map<string, number> {
  const rows = new Map<string, number>();
  index.guid.forEach((guid, row) => {
    if (!rows.has(guid)) rows.set(guid, row);
  });
  return rows;
}
